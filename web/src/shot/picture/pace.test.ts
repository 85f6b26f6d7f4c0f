import { expect, test } from "vitest";
import { DOWN, Pace } from "./pace";

function ready(): Pace {
  const pace = new Pace();
  for (const level of DOWN) pace.took(level, 2000, 0);
  return pace;
}

test("the first picture of a level says nothing of the next ones", () => {
  expect(ready().level(true, 1)).toBe("fine");
});

test("a fast machine always draws finely", () => {
  const pace = ready();
  pace.took("fine", 4, 0);
  expect(pace.level(true, 10)).toBe("fine");
  expect(pace.level(false, 500)).toBe("fine");
});

test("a slow one goes down while things move, and is fine at rest", () => {
  const pace = ready();
  pace.took("fine", 120, 0);
  expect(pace.level(true, 10)).toBe("plain");
  pace.took("plain", 70, 130);
  expect(pace.level(true, 140)).toBe("quick");
  expect(pace.level(false, 500)).toBe("fine");
});

test("at rest, too, nobody waits for a second", () => {
  const pace = ready();
  pace.took("fine", 1500, 0);
  expect(pace.level(false, 2000)).toBe("plain");
});

test("what was too slow is tried again, and a lighter shot is fine again", () => {
  const pace = ready();
  pace.took("fine", 120, 0);
  pace.took("plain", 70, 130);
  expect(pace.level(true, 20_000)).toBe("plain");
  pace.took("fine", 20, 20_100);
  expect(pace.level(true, 20_200)).toBe("fine");
});
