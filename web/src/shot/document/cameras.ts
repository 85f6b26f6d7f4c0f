import { toldAt } from "./changes";
import { escaped } from "./pointer";
import type { Shot } from "./patches";
import type { Scene } from "./scene";

/** The address below which the values of the camera lie that is looked through at a frame. */
export function lookedThrough(shot: Shot | null, frame: number): string {
  const name = String(toldAt(shot, "/through", frame) ?? "");
  return name ? `/cameras/${escaped(name)}` : "/camera";
}

/** What a camera is called in requests: camera, or camera: and its name. */
export const cameraAsked = (at: string): string =>
  at.replace("/cameras/", "camera:").replace("/camera", "camera");

/** Where in a scene it is told of a camera: by its name where there are several, else of the only one. */
export function cameraTold(scene: Scene, at: string): string {
  const key = `camera:${at.split("/")[2] ?? ""}`;
  return scene.has(`${key}/position`) ? key : "camera";
}

/** Frames from which on, and up to which, each camera is looked through. */
export function looks(shot: Shot, frames: number): { at: string; first: number; end: number }[] {
  const cuts = shot.changes?.["/through"]?.keys ?? [];
  const begins = cuts.length ? cuts.map((key) => key.frame ?? 0).filter((frame) => frame < frames) : [0];
  return begins.map((first, k) => ({
    at: lookedThrough(shot, first),
    first: k ? first : 0,
    end: begins[k + 1] ?? frames,
  }));
}
