import type { Sequence } from "./session";

/** What is another one between two states of a sequence, in words: "the sound Bell and the markers". */
export function changed(before: Sequence, after: Sequence): string {
  const differs = (key: keyof Sequence) => JSON.stringify(before[key]) !== JSON.stringify(after[key]);
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])] as (keyof Sequence)[];
  const told = keys.filter(differs).flatMap((key) => {
    if (key === "sounds") return soundsBetween(before, after);
    if (key === "line") return [pieces(before.line?.length ?? 0, after.line?.length ?? 0)];
    return [PARTS[key] ?? key];
  });
  const all = [...new Set(told)];
  return all.length <= 2 ? all.join(" and ") : `${all[0]} and ${all.length - 1} more`;
}

const PARTS: Partial<Record<keyof Sequence, string>> = {
  name: "the name",
  width: "the size",
  height: "the size",
  rate: "frames a second",
  framing: "the framing",
  crops: "the framing",
  lanes: "the lanes",
  markers: "the markers",
  versions: "the versions",
  loudness: "the loudness",
};

function pieces(before: number, after: number): string {
  if (before === after) return "the pieces of the line";
  return after > before ? "a piece left out of the line" : "a piece put on the line";
}

function soundsBetween({ sounds: before = {} }: Sequence, { sounds: after = {} }: Sequence): string[] {
  return [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .filter((key) => JSON.stringify(before[key]) !== JSON.stringify(after[key]))
    .map((key) => `the sound ${(after[key] ?? before[key])!.name}`);
}
