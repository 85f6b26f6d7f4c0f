import type { Texture } from "three";
import type { Scene } from "../../../document/scene";

/**
 * Values of the optics at a frame, by pointer below them: `bloom/amount`; `matte` holds how much of effects
 * is at work on what is seen, where any goes by that.
 */
export interface OpticsValues {
  (name: string): number;
  matte?: Texture | null;
}

/** Null where the optics do nothing. */
export function opticsAt(scene: Scene, frame: number): OpticsValues | null {
  if (!scene.has("optics/bloom/amount")) return null;
  return (name) => (scene.has(`optics/${name}`) ? scene.at(`optics/${name}`, frame)[0]! : 0);
}
