import type { Schemas } from "../../api/client";
import type { HeardSound } from "../../api/sounds";
import { toFrame, type Scale } from "./scale";

type Sound = Schemas["Sound"];
/** Pixels of the row of a sound. */
export const HEIGHT = 28;

/** Highest and lowest sample under each pixel, as one outline. */
export function outline({ peaks, moments }: HeardSound, sound: Sound, scale: Scale, fps: number): string {
  const { start = 0, skip = 0 } = sound;
  const count = peaks.length / 2;
  const at = (x: number) => ((toFrame(scale, x) - start) / fps + skip) * moments;
  const [upper, lower]: [string[], string[]] = [[], []];
  for (let x = 0; x < scale.width; x += 2) {
    const [first, end] = [Math.floor(at(x)), Math.max(Math.floor(at(x)) + 1, Math.ceil(at(x + 2)))];
    if (end <= skip * moments || first >= count) continue;
    let [low, high] = [0, 0];
    for (let i = Math.max(0, first); i < Math.min(count, end); i++) {
      low = Math.min(low, peaks[i * 2]!);
      high = Math.max(high, peaks[i * 2 + 1]!);
    }
    upper.push(`${x} ${(HEIGHT / 2 - high * 12).toFixed(1)}`);
    lower.push(`${x} ${(HEIGHT / 2 - low * 12).toFixed(1)}`);
  }
  return upper.length ? `M${upper.join("L")}L${lower.reverse().join("L")}Z` : "";
}
