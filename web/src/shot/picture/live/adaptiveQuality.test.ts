import { expect, test } from "vitest";
import { Pace, type Level } from "./adaptiveQuality";

function known(took: Partial<Record<Level, number>>): Pace {
  const pace = new Pace();
  for (const [level, milliseconds] of Object.entries(took))
    for (let i = 0; i < 3; i++) pace.took(level as Level, milliseconds, i);
  return pace;
}

test("single slow pictures say nothing of the next ones", () => {
  const pace = new Pace();
  pace.took("fine", 2000, 0);
  pace.took("fine", 1500, 1);
  pace.took("fine", 12, 2);
  expect(pace.level(true, 3)).toBe("fine");
});

test("a fast machine always draws finely", () => {
  const pace = known({ fine: 4 });
  expect(pace.level(true, 10)).toBe("fine");
  expect(pace.level(false, 500)).toBe("fine");
});

test("a slow one goes down while things move, and is fine at rest", () => {
  expect(known({ fine: 120, plain: 30 }).level(true, 10)).toBe("plain");
  const slower = known({ fine: 120, plain: 70 });
  expect(slower.level(true, 10)).toBe("quick");
  expect(slower.level(false, 500)).toBe("fine");
});

test("what has not been tried is judged by the level below it", () => {
  expect(known({ quick: 1 }).level(true, 10)).toBe("fine");
  expect(known({ quick: 8 }).level(true, 10)).toBe("plain");
  expect(known({ quick: 20 }).level(true, 10)).toBe("quick");
  expect(known({ quick: 20 }).expected("fine", 10)).toBe(320);
  expect(known({ quick: 2000 }).level(false, 10)).toBe("fine");
});

test("at rest, too, nobody waits for many seconds", () => {
  expect(known({ fine: 4500, plain: 900 }).level(false, 2000)).toBe("plain");
});

test("what was too slow is tried again when the level below has become quick", () => {
  const pace = known({ fine: 120, plain: 70, quick: 20 });
  expect(pace.level(true, 20_000)).toBe("quick");
  pace.took("quick", 2, 20_050);
  expect(pace.level(true, 20_100)).toBe("fine");
});
