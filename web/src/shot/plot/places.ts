import { cameraTold } from "../document/cameras";
import type { Scene } from "../document/scene";
import type { Point } from "../document/spaces";
import type { Listed } from "../things";

/** The pointer of a thing's position; null where it has none that can be keyed as it stands. */
export function positionOf(thing: Listed): string | null {
  if (thing.kind === "camera" || thing.kind === "light") return `${thing.at}/position`;
  if (["surroundings", "backdrop", "sound"].includes(thing.kind)) return null;
  return `${thing.at}/place/position`;
}

/** Where a thing is in the room at a frame. */
export function placesOf(scene: Scene, thing: Listed): ((frame: number) => Point) | null {
  if (thing.kind === "camera")
    return (frame) => scene.triple(`${cameraTold(scene, thing.at)}/position`, frame);
  if (scene.has(`light/${thing.key}/position`))
    return (frame) => scene.triple(`light/${thing.key}/position`, frame);
  const name = thing.kind === "pivot" ? `pivot/${thing.key}` : `title/${thing.key}/matrix`;
  if (!scene.has(name)) return null;
  return (frame) => {
    const matrix = scene.at(name, frame);
    return [matrix[3]!, matrix[7]!, matrix[11]!];
  };
}
