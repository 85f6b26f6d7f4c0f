import * as THREE from "three";
import type { Scene } from "../../document/scene";
import { PLATE_WHITE } from "./around";

const PLACE = `varying vec2 place;
void main() {
  place = uv;
  gl_Position = vec4( position.xy, 0.0, 1.0 );
}`;

const SHOWN = `uniform sampler2D plate;
uniform sampler2D hidden;
varying vec2 place;
void main() {
  gl_FragColor = vec4( texture2D( plate, place ).rgb * ${PLATE_WHITE.toFixed(2)}, texture2D( hidden, place ).r );
}`;

/** What only the camera sees, and no mirror. */
export const BEFORE_LAYER = 1;
const MOST_HELD = 96;
const AHEAD = 12;

/** What stands in a plate before the words: the plate once more, where covers hide what is behind them. */
export class BeforeView {
  private readonly mattes = new Map<string, THREE.Texture>();
  private readonly quad: THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial>;

  constructor(
    world: THREE.Scene,
    private readonly shot: string,
    private readonly redraw: () => void,
  ) {
    const uniforms = { plate: { value: null }, hidden: { value: null } };
    const material = new THREE.ShaderMaterial({
      vertexShader: PLACE,
      fragmentShader: SHOWN,
      uniforms,
      depthTest: false,
      depthWrite: false,
      transparent: true,
    });
    this.quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material);
    this.quad.frustumCulled = false;
    this.quad.renderOrder = 1e6;
    this.quad.visible = false;
    this.quad.layers.set(BEFORE_LAYER);
    world.add(this.quad);
  }

  dispose(): void {
    for (const one of this.mattes.values()) one.dispose();
    this.quad.geometry.dispose();
    this.quad.material.dispose();
  }

  place(scene: Scene, frame: number, behind: THREE.Texture | THREE.Color | null): void {
    const { behind_key, covered, frames } = scene.facts;
    this.quad.visible = false;
    if (!covered || !(behind instanceof THREE.Texture)) return;
    const now = scene.clamp(frame);
    const matte = this.matteOf(behind_key, now);
    for (let next = now + 1; next <= Math.min(now + AHEAD, frames - 1); next++)
      this.matteOf(behind_key, next);
    const { uniforms } = this.quad.material;
    // Until the matte of a frame is here the last one stays.
    if (matte.image) uniforms.hidden!.value = matte;
    uniforms.plate!.value = behind;
    this.quad.visible = uniforms.hidden!.value !== null;
  }

  private matteOf(key: string, frame: number): THREE.Texture {
    const name = `${key} ${frame}`;
    let matte = this.mattes.get(name);
    if (!matte) {
      const address = `/api/shots/${this.shot}/plate/cover?frame=${frame}&as=${key}`;
      matte = new THREE.TextureLoader().load(address, this.redraw);
      this.mattes.set(name, matte);
      for (const [old, held] of this.mattes) {
        if (this.mattes.size <= MOST_HELD) break;
        if (held === this.quad.material.uniforms.hidden!.value) continue;
        held.dispose();
        this.mattes.delete(old);
      }
    }
    return matte;
  }
}
