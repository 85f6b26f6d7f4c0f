import { bodyOf, letterMatrix, type Scene } from "../document/scene";
import { place } from "./geometry";

/** Corners of the boxes of a thing's bodies at a frame, in the room. */
export function letterBoxes(scene: Scene, title: string, frame: number): [number, number, number][][] {
  const matrix = scene.at(`title/${title}/matrix`, frame);
  const poses = scene.poses(title, frame);
  return scene.letters(title, frame).flatMap((letter) => {
    const body = bodyOf(letter.body);
    // Of a strand there may be nothing to see at a frame.
    if (!body || !Number.isFinite(body.low[0])) return [];
    const own = letterMatrix(poses, letter) as Float32Array;
    const corners = Array.from({ length: 8 }, (_, i) => {
      const from = (axis: 0 | 1 | 2) => (i & (1 << axis) ? body.high[axis] : body.low[axis]);
      return place(matrix, place(own, [from(0), from(1), from(2)]));
    });
    return [corners];
  });
}
