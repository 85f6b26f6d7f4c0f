import { describe, expect, it } from "vitest";
import { ago, frameTyped, lasting, timecode } from "./when";

it("counts whole rates straight through", () => {
  expect(timecode(0, { num: 25, den: 1 })).toBe("00:00:00:00");
  expect(timecode(25 * 3661 + 7, { num: 25, den: 1 })).toBe("01:01:01:07");
  expect(timecode(24, { num: 24000, den: 1001 })).toBe("00:00:01:00");
});

it("drops frame numbers 0 and 1 of every minute but each tenth (SMPTE ST 12-1)", () => {
  const rate = { num: 30000, den: 1001 };
  expect(timecode(1799, rate)).toBe("00:00:59;29");
  expect(timecode(1800, rate)).toBe("00:01:00;02");
  expect(timecode(17981, rate)).toBe("00:09:59;29");
  expect(timecode(17982, rate)).toBe("00:10:00;00");
  expect(timecode(107892, rate)).toBe("01:00:00;00");
  expect(timecode(3600, { num: 60000, den: 1001 })).toBe("00:01:00;04");
});

it("speaks of time in words", () => {
  const now = Date.parse("2030-01-02T12:00:00Z");
  expect(ago("2030-01-02T11:59:50Z", now)).toBe("just now");
  expect(ago("2030-01-02T11:00:00Z", now)).toBe("1 hour ago");
  expect(lasting(59.4)).toBe("59 s");
  expect(lasting(125)).toBe("2 min 05 s");
  expect(lasting(3720)).toBe("1 h 02 min");
});

describe("frames that are typed", () => {
  const rate = { num: 25, den: 1 };
  const drop = { num: 30000, den: 1001 };
  it("are frames, timecodes, seconds, or steps from where one is", () => {
    expect(frameTyped("48", rate, 0)).toBe(48);
    expect(frameTyped("00:00:01:23", rate, 0)).toBe(48);
    expect(frameTyped("1:23", rate, 0)).toBe(48);
    expect(frameTyped("1.5 s", rate, 0)).toBe(38);
    expect([frameTyped("+12", rate, 30), frameTyped("-12", rate, 30)]).toEqual([42, 18]);
  });
  it("come back from any timecode that is shown", () => {
    for (const frame of [0, 29, 1799, 1800, 17981, 17982, 107892])
      expect(frameTyped(timecode(frame, drop), drop, 0)).toBe(frame);
  });
  it("are nothing where they make no sense", () => {
    for (const text of ["", "soon", "00:00:01:25", "1:2:3:4:5", "00:61:00:00"])
      expect(frameTyped(text, rate, 0)).toBeNull();
  });
});
