import * as THREE from "three";
import { FullScreenQuad } from "three/addons/postprocessing/Pass.js";

/** Where the shoulder of the core's view transform starts. */
const SHOULDER = 0.6;

const PLACE = `varying vec2 place;
void main() {
  place = uv;
  gl_Position = vec4( position.xy, 0.0, 1.0 );
}`;

const BEND = `uniform sampler2D light;
uniform float exposure;
varying vec2 place;
void main() {
  vec3 lit = max( texture2D( light, place ).rgb * exposure, vec3( 0.0 ) );
  vec3 bent = 1.0 - ${(1 - SHOULDER).toFixed(4)} * exp( - ( lit - ${SHOULDER.toFixed(4)} ) / ${(1 - SHOULDER).toFixed(4)} );
  vec3 shown = mix( bent, lit, vec3( lessThanEqual( lit, vec3( ${SHOULDER.toFixed(4)} ) ) ) );
  vec3 codes = mix( 1.055 * pow( shown, vec3( 1.0 / 2.4 ) ) - 0.055, 12.92 * shown, vec3( lessThanEqual( shown, vec3( 0.0031308 ) ) ) );
  gl_FragColor = vec4( codes, 1.0 );
}`;

/**
 * From light to the display, as the core does it: edges are averaged in light, then the view
 * transform bends the whole picture (straight to the shoulder, then towards 1) and encodes it as sRGB.
 */
export class Display {
  private readonly targets = new Map<number, THREE.WebGLRenderTarget>();
  private readonly material = new THREE.ShaderMaterial({
    vertexShader: PLACE, fragmentShader: BEND, uniforms: { light: { value: null }, exposure: { value: 1 } }, depthTest: false, depthWrite: false,
  });
  private readonly quad = new FullScreenQuad(this.material);

  /** Draw `world` with `samples` places a pixel (0: just one, without averaging) at the size the renderer has. */
  show(renderer: THREE.WebGLRenderer, world: THREE.Scene, camera: THREE.Camera, exposure: number, samples: number): void {
    const { width, height } = renderer.getDrawingBufferSize(new THREE.Vector2());
    let target = this.targets.get(samples);
    if (!target) {
      target = new THREE.WebGLRenderTarget(width, height, { type: THREE.HalfFloatType, samples });
      this.targets.set(samples, target);
    }
    if (target.width !== width || target.height !== height) target.setSize(width, height);
    renderer.setRenderTarget(target);
    renderer.render(world, camera);
    renderer.setRenderTarget(null);
    this.material.uniforms.light!.value = target.texture;
    this.material.uniforms.exposure!.value = exposure;
    this.quad.render(renderer);
  }

  dispose(): void {
    for (const target of this.targets.values()) target.dispose();
    this.material.dispose();
    this.quad.dispose();
  }
}
