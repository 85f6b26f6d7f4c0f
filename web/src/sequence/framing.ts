import type { Operation } from "../shot/document/patches";
import type { Sequence } from "./session";

export type Crop = { zoom: number; x: number; y: number };

/** Where the framing of a shot stands that is seen in a version ("" is the sequence itself). */
function placeOf(document: Sequence, version: string): { at: string; crops: Record<string, Partial<Crop>> } {
  const index = (document.versions ?? []).findIndex(({ name }) => name === version);
  if (index < 0) return { at: "/crops", crops: document.crops ?? {} };
  return { at: `/versions/${index}/crops`, crops: document.versions![index]!.crops ?? {} };
}

/** How a shot is framed by hand in a version; null where it goes by the rule. */
export function cropOf(document: Sequence, version: string, shot: string): Crop | null {
  const own = placeOf(document, version).crops[shot] ?? document.crops?.[shot];
  return own ? { zoom: own.zoom ?? 1, x: own.x ?? 0.5, y: own.y ?? 0.5 } : null;
}

/** The edit that frames a shot by hand, or lets it go by the rule again. */
export function framed(document: Sequence, version: string, shot: string, crop: Crop | null): Operation[] {
  const { at, crops } = placeOf(document, version);
  const path = `${at}/${shot}`;
  if (!crop) return crops[shot] ? [{ op: "remove", path }] : [];
  return [{ op: "add", path, value: crop as unknown as Record<string, unknown> }];
}

/**
 * A crop whose picture was dragged by shares of what is seen: as `aspect` is the shot's and `shape` that of
 * the picture, less of one side is cut off than of the other.
 */
export function panned(crop: Crop, by: [number, number], aspect: number, shape: number): Crop {
  const across = Math.max(1, aspect / shape) * crop.zoom - 1;
  const down = Math.max(1, shape / aspect) * crop.zoom - 1;
  const to = (now: number, moved: number, room: number) =>
    room < 1e-6 ? now : Math.max(0, Math.min(1, now - moved / room));
  return { ...crop, x: to(crop.x, by[0], across), y: to(crop.y, by[1], down) };
}
