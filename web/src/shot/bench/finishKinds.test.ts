// @vitest-environment jsdom
import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import { kindOf } from "./FinishGrid";

const finish = (of: Partial<Schemas["Finish"]>) => of as Schemas["Finish"];

test("a finish is what light does with it, the strongest first", () => {
  expect(kindOf(finish({ metallic: 1, clearcoat: 1 }))).toBe("metal");
  expect(kindOf(finish({ metallic: 0, clearcoat: 0.5 }))).toBe("lacquer");
  expect(kindOf(finish({ metallic: 0, transmission: 1, clearcoat: 1 }))).toBe("clear");
  expect(kindOf(finish({ metallic: 1, emission: 3 }))).toBe("glowing");
  expect(kindOf(finish({}))).toBe("matt");
});
