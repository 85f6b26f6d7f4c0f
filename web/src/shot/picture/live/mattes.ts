import * as THREE from "three";
import type { Scene } from "../../document/scene";
import { drawAs, type Drawn } from "./drawAs";
import type { OpticsValues } from "./optics/values";

/** Effects that may go by what is seen, each in a channel of one picture: the core's `LIMITED`. */
export const CHANNELS = ["bend", "blur", "diffusion", "grade"] as const;

const VERTEX = `varying float away;
void main() {
  vec4 at = modelViewMatrix * vec4( position, 1.0 );
  away = - at.z;
  gl_Position = projectionMatrix * at;
}`;

/** The core's `depth_share`, of four effects at once. */
const SHARE = `varying float away;
uniform vec4 thing, depth, near, soft;
void main() {
  vec4 t = clamp( ( near - away ) / soft + 0.5, 0.0, 1.0 );
  vec4 closer = t * t * ( 3.0 - 2.0 * t );
  vec4 share = mix( 1.0 + depth * closer, 1.0 - depth * ( 1.0 - closer ), step( 0.0, depth ) );
  gl_FragColor = thing * share;
}`;

/** Whether this takes anything up in the finished picture, as nothing behind it and no catcher does. */
const stands = (scene: Scene, name: string | null) => name !== null && !scene.facts.titles[name]?.catches;

/** How much of effects is at work on what is seen: by how far away it is, and whether it is a thing. */
export class Mattes {
  private readonly target = new THREE.WebGLRenderTarget(1, 1);
  private readonly materials = new Map<string, THREE.ShaderMaterial>();

  dispose(): void {
    this.target.dispose();
    for (const material of this.materials.values()) material.dispose();
  }

  /** Shares of the effects in four channels; null where none goes by what is seen. */
  draw(
    renderer: THREE.WebGLRenderer,
    camera: THREE.Camera,
    scene: Scene,
    things: Map<string, Drawn>,
    size: THREE.Vector2,
    of: OpticsValues | null,
  ): THREE.Texture | null {
    const limits = new Map(scene.facts.area_things.map((one) => [one.effect, one]));
    const { graded } = scene.facts;
    const limited = CHANNELS.some((effect) => limits.has(effect) || of?.(`${effect}/area/depth`));
    if (!of || (!limited && graded === "everything")) return null;
    if (this.target.width !== size.x || this.target.height !== size.y) this.target.setSize(size.x, size.y);
    const four = (value: (effect: string) => number) =>
      new THREE.Vector4(...CHANNELS.map((effect) => value(effect)));
    const on = (name: string | null) =>
      four((effect) => {
        const limit = limits.get(effect);
        if (effect === "grade" && graded !== "everything" && stands(scene, name) !== (graded === "titles"))
          return 0;
        return !limit || (limit.thing === name) !== limit.but_for ? 1 : 0;
      });
    const depth = four((effect) => of(`${effect}/area/depth`));
    const near = four((effect) => of(`${effect}/area/near`));
    const soft = four((effect) => Math.max(of(`${effect}/area/depth_softness`), 1e-3));
    // Behind everything nothing is near.
    const behind = on(null).multiply(four((effect) => 1 - Math.max(0, of(`${effect}/area/depth`))));
    const colour = renderer.getClearColor(new THREE.Color());
    const alpha = renderer.getClearAlpha();
    renderer.setRenderTarget(this.target);
    // Four numbers, none of which is an opacity.
    renderer.state.buffers.color.setClear(behind.x, behind.y, behind.z, behind.w, false);
    renderer.clear();
    drawAs(renderer, camera, things, (name) => {
      const material = this.material(name);
      Object.assign(material.uniforms, {
        thing: { value: on(name) },
        depth: { value: depth },
        near: { value: near },
        soft: { value: soft },
      });
      return material;
    });
    renderer.setClearColor(colour, alpha);
    renderer.setRenderTarget(null);
    return this.target.texture;
  }

  private material(name: string): THREE.ShaderMaterial {
    let material = this.materials.get(name);
    if (!material) {
      material = new THREE.ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: SHARE,
        side: THREE.DoubleSide,
        blending: THREE.NoBlending,
        uniforms: {},
      });
      this.materials.set(name, material);
    }
    return material;
  }
}
