import * as THREE from "three";
import type { Display } from "./display";
import { whenDrawn } from "./fence";

/**
 * Has the shaders that a picture needs compiled aside: where the first use of one would hold up the whole
 * page
 * until it is compiled, the page goes on taking clicks, and the last picture stays until all are there.
 */
export class Programs {
  private made = "";
  private making = "";
  private readonly target = new THREE.WebGLRenderTarget(1, 1, {
    type: THREE.HalfFloatType,
    depthBuffer: false,
  });

  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    private readonly world: THREE.Scene,
    private readonly camera: THREE.Camera,
    private readonly display: Display,
    private readonly redraw: () => void,
  ) {}

  dispose(): void {
    this.making = "";
    this.target.dispose();
  }

  /**
   * Whether all is there to draw these materials under these lights; if not, `redraw` is called once it is.
   */
  ready(materials: THREE.Material[], lights: string): boolean {
    const key = [
      lights,
      this.world.environment?.uuid,
      ...materials.map(({ uuid, version }) => `${uuid} ${version}`),
    ].join();
    if (key === this.made) return true;
    if (key === this.making) return false;
    this.making = key;
    this.display.compile(this.renderer);
    this.renderer.setRenderTarget(this.target);
    const compiled = this.renderer.compileAsync(this.world, this.camera);
    this.renderer.setRenderTarget(null);
    void compiled.then(() =>
      // Asked when nothing is being drawn: the answer would wait for what is.
      whenDrawn(this.renderer, () => {
        if (this.making !== key) return;
        this.made = key;
        for (const program of this.renderer.info.programs ?? []) program.getUniforms();
        this.redraw();
      }),
    );
    return false;
  }
}
