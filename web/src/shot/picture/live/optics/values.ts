import type { Scene } from "../../../document/scene";

/** Values of the optics at a frame, by pointer below them: `bloom/amount`. */
export type OpticsValues = (name: string) => number;

/** Null where the optics do nothing. */
export function opticsAt(scene: Scene, frame: number): OpticsValues | null {
  if (!scene.has("optics/bloom/amount")) return null;
  return (name) => (scene.has(`optics/${name}`) ? scene.at(`optics/${name}`, frame)[0]! : 0);
}
