import { expect, it } from "vitest";
import { patched, type Shot } from "./patches";
import { escaped, split, valueAt } from "./pointer";
import { freeName, keysOf, removeKey, removeKeysBelow, setKey, setValue, writeKeys } from "./values";

const X = "/things/title/place/position/x";
const empty = { things: { title: { place: { position: { x: 1 } } } }, channels: {} } as unknown as Shot;
const frames = (shot: Shot) => keysOf(shot, X).map((key) => [key.frame, key.value]);

it("escapes pointers both ways", () => {
  expect(split(`/channels/${escaped(X)}`)).toEqual(["channels", X]);
  expect(valueAt(empty, X)).toBe(1);
  expect(valueAt(empty, "/things/none/x")).toBeUndefined();
});

it("changes the value itself as long as it has no keys", () => {
  expect(valueAt(patched(empty, setValue(empty, X, 4, 10)), X)).toBe(4);
});

it("keeps keys in order of frames, one a frame", () => {
  let shot = patched(empty, setKey(empty, X, 20, 2));
  shot = patched(shot, setKey(shot, X, 5, 0.5));
  shot = patched(shot, setValue(shot, X, 9, 12));
  shot = patched(shot, setValue(shot, X, 7, 12));
  expect(frames(shot)).toEqual([
    [5, 0.5],
    [12, 7],
    [20, 2],
  ]);
  shot = patched(
    shot,
    writeKeys(
      X,
      keysOf(shot, X)
        .map((key) => (key.frame === 5 ? { ...key, frame: 20 } : key))
        .reverse(),
    ),
  );
  expect(frames(shot)).toEqual([
    [12, 7],
    [20, 0.5],
  ]);
});

it("leaves the last key's value behind", () => {
  let shot = patched(empty, setKey(empty, X, 3, 8));
  shot = patched(shot, removeKey(shot, X, 3));
  expect(keysOf(shot, X)).toEqual([]);
  expect(valueAt(shot, X)).toBe(8);
  expect(removeKey(shot, X, 3)).toEqual([]);
});

it("removes what moves a thing and finds free names", () => {
  const shot = patched(empty, setKey(empty, X, 3, 8));
  const gone = patched(shot, removeKeysBelow(shot, "/things/title/"));
  expect(gone.channels).toEqual({});
  expect(freeName(shot, "title")).toBe("title-2");
  expect(freeName(shot, "spot")).toBe("spot");
});
