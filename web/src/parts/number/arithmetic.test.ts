import { describe, expect, it } from "vitest";
import { evaluate, shown } from "./arithmetic";

describe("typed numbers", () => {
  it.each([
    ["12", "", 12],
    ["1+2*3", "", 7],
    ["(1+2)*3", "", 9],
    ["-4", "", -4],
    ["2,5", "", 2.5],
    ["35mm", "m", 0.035],
    ["1m + 20cm", "m", 1.2],
    ["2in", "mm", 50.8],
    ["0.25turn", "°", 90],
    ["50%", "", 0.5],
    ["3 stops", "stops", 3],
    ["1e2", "", 100],
  ])("%s in %s is %d", (text, unit, value) => expect(evaluate(text, unit)).toBeCloseTo(value, 9));

  it("works on the present value after a leading operator", () => {
    expect(evaluate("*2", "m", 1.5)).toBe(3);
    expect(evaluate("/4", "m", 1)).toBe(0.25);
    expect(evaluate("+10cm", "m", 1)).toBeCloseTo(1.1);
    expect(evaluate("/3", "stops", 2)).toBeCloseTo(2 - Math.log2(3));
    expect(evaluate("*2", "stops", -1)).toBe(0);
    expect(evaluate("+1", "stops", -1)).toBe(0);
    expect(evaluate("/0", "stops", 1)).toBeNull();
    expect(evaluate("*-2", "stops", 1)).toBeNull();
  });

  it.each(["", "abc", "1+", "(1", "1/0", "5kg", "1 2", "--", "3°"])("%s makes no sense in metres", (text) =>
    expect(evaluate(text, "m")).toBeNull(),
  );

  it("shows no more digits than the step deserves", () => {
    expect(shown(0.1 + 0.2, 0.01)).toBe("0.3");
    expect(shown(-0, 0.01)).toBe("0");
    expect(shown(-1e-9, 0.25)).toBe("0");
    expect(shown(-0.4, 1)).toBe("-0.4");
    expect(shown(100, 1)).toBe("100");
    expect(shown(0.0125, 0.0005)).toBe("0.0125");
  });
});
