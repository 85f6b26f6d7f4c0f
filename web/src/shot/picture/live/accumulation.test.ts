// @vitest-environment jsdom
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type * as THREE from "three";
import { Rest, type Painting } from "./accumulation";

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

/** A renderer whose every strip is done at the next look. */
const renderer = {
  getContext: () => ({
    fenceSync: () => ({}),
    flush: () => {},
    isContextLost: () => false,
    getSyncParameter: () => 1,
    SIGNALED: 1,
    deleteSync: () => {},
  }),
} as unknown as THREE.WebGLRenderer;

function painted(times: number): { painting: Painting; strips: [number, number, number][]; shown: number[] } {
  const strips: [number, number, number][] = [];
  const shown: number[] = [];
  const painting: Painting = {
    times,
    part: (time, low, high) => strips.push([time, low, high]),
    show: (time) => shown.push(time),
    took: () => {},
  };
  return { painting, strips, shown };
}

test("every picture is drawn whole, without gaps, before it is shown", () => {
  const { painting, strips, shown } = painted(3);
  new Rest(renderer).paint(painting, 0, 100, false);
  vi.runAllTimers();
  expect(shown).toEqual([0, 1, 2]);
  for (const time of shown) {
    const own = strips.filter(([of]) => of === time);
    expect(own[0]![1]).toBe(0);
    expect(own.at(-1)![2]).toBe(1);
    for (let i = 1; i < own.length; i++) expect(own[i]![1]).toBeCloseTo(own[i - 1]![2]);
  }
});

test("what takes long is drawn in more strips, what cannot be cut in one", () => {
  const [quick, slow, whole] = [painted(1), painted(1), painted(1)];
  new Rest(renderer).paint(quick.painting, 0, 5, false);
  new Rest(renderer).paint(slow.painting, 0, 300, false);
  new Rest(renderer).paint(whole.painting, 0, 300, true);
  vi.runAllTimers();
  expect(quick.strips).toHaveLength(1);
  expect(slow.strips).toHaveLength(10);
  expect(whole.strips).toHaveLength(1);
});

test("what is called off shows nothing more", () => {
  const { painting, strips, shown } = painted(5);
  const rest = new Rest(renderer);
  rest.paint(painting, 0, 300, false);
  vi.advanceTimersByTime(1);
  rest.stop();
  const until = strips.length;
  vi.runAllTimers();
  expect(strips).toHaveLength(until);
  expect(shown).toEqual([]);
});

test("a new picture takes the place of the one before", () => {
  const [old, now] = [painted(4), painted(2)];
  const rest = new Rest(renderer);
  rest.paint(old.painting, 0, 300, false);
  rest.paint(now.painting, 1, 30, false);
  vi.runAllTimers();
  expect(old.shown).toEqual([]);
  expect(now.shown).toEqual([1]);
});
