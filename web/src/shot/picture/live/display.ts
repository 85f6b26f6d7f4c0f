import * as THREE from "three";
import { unpack } from "../../../api/block";
import { gotBytes } from "../../../api/client";
import { latticeTexture } from "./lattice";
import { OpticsChain } from "./optics/chain";
import type { OpticsValues } from "./optics/values";
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
uniform highp sampler3D cube;
uniform vec3 shaper;
varying vec2 place;
void main() {
  vec3 lit = max( texture2D( light, place ).rgb * exposure, vec3( 0.0 ) );
  if ( shaper.z > 0.0 ) {
    vec3 steps = ( log2( lit + exp2( - shaper.x ) ) + shaper.x ) / shaper.y;
    vec3 at = ( clamp( steps, 0.0, 1.0 ) * ( shaper.z - 1.0 ) + 0.5 ) / shaper.z;
    gl_FragColor = vec4( clamp( texture( cube, at ).rgb, 0.0, 1.0 ), 1.0 );
    return;
  }
  vec3 bent = 1.0 - ${(1 - SHOULDER).toFixed(4)} * exp( - ( lit - ${SHOULDER.toFixed(4)} ) / ${(1 - SHOULDER).toFixed(4)} );
  vec3 shown = mix( bent, lit, vec3( lessThanEqual( lit, vec3( ${SHOULDER.toFixed(4)} ) ) ) );
  vec3 codes = mix( 1.055 * pow( shown, vec3( 1.0 / 2.4 ) ) - 0.055, 12.92 * shown, vec3( lessThanEqual( shown, vec3( 0.0031308 ) ) ) );
  gl_FragColor = vec4( codes, 1.0 );
}`;

const COPY = `uniform sampler2D light;
uniform float share;
varying vec2 place;
void main() {
  gl_FragColor = vec4( texture2D( light, place ).rgb, share );
}`;

interface Cube {
  texture: THREE.Data3DTexture;
  low: number;
  span: number;
  side: number;
}

const cubes = new Map<string, Promise<Cube>>();

function cubeOf(view: string): Promise<Cube> {
  let found = cubes.get(view);
  if (!found) {
    found = gotBytes(`/api/view-transforms/${encodeURIComponent(view)}`).then((bytes) => {
      const block = unpack<{ low: number; span: number }>(bytes);
      const lut = block.arrays.get("lut")!;
      const texture = latticeTexture(lut);
      const side = lut.shape[0]!;
      const { low, span } = block.facts;
      return { texture, low, span, side };
    });
    cubes.set(view, found);
  }
  return found;
}

/**
 * From light to the display, as the core does it: edges are averaged in light, then the view
 * transform bends the whole picture (straight to the shoulder, then towards 1) and encodes it as sRGB;
 * other view transforms come from the core as cubes.
 */
export class Display {
  private readonly targets = new Map<number, THREE.WebGLRenderTarget>();
  private readonly material = new THREE.ShaderMaterial({
    vertexShader: PLACE,
    fragmentShader: BEND,
    uniforms: {
      light: { value: null },
      exposure: { value: 1 },
      cube: { value: null as THREE.Data3DTexture | null },
      shaper: { value: new THREE.Vector3() },
    },
    depthTest: false,
    depthWrite: false,
  });
  private readonly quad = new FullScreenQuad(this.material);
  private readonly sum = new THREE.WebGLRenderTarget(1, 1, { type: THREE.HalfFloatType, depthBuffer: false });
  private readonly adding = new FullScreenQuad(
    new THREE.ShaderMaterial({
      vertexShader: PLACE,
      fragmentShader: COPY,
      uniforms: { light: { value: null }, share: { value: 1 } },
      depthTest: false,
      depthWrite: false,
      transparent: true,
    }),
  );

  private readonly optics: OpticsChain;
  private view = "shoulder";

  constructor(
    shot: string,
    private readonly redraw: () => void,
  ) {
    this.optics = new OpticsChain(shot, redraw);
  }

  /** Curves and table of the grade, by their key. */
  toned(key: string): void {
    this.optics.tones.by(key);
  }

  /** The picture that moves what is seen, by its name. */
  movedBy(name: string): void {
    this.optics.moving.by(name);
  }

  /** Show through this view transform, as soon as its cube is here. */
  through(view: string): void {
    if (view === this.view) return;
    this.view = view;
    const { cube, shaper } = this.material.uniforms;
    if (view === "shoulder") shaper!.value.set(0, 0, 0);
    else
      void cubeOf(view).then((found) => {
        if (this.view !== view) return;
        cube!.value = found.texture;
        shaper!.value.set(found.low, found.span, found.side);
        this.redraw();
      });
  }

  /** Have the shaders compiled, without waiting. */
  compile(renderer: THREE.WebGLRenderer): void {
    // Without normals, as the planes are that are drawn.
    const plane = new THREE.PlaneGeometry().deleteAttribute("normal");
    const camera = new THREE.OrthographicCamera();
    renderer.setRenderTarget(this.sum);
    renderer.compile(new THREE.Mesh(plane, this.adding.material), camera);
    renderer.setRenderTarget(null);
    renderer.compile(new THREE.Mesh(plane, this.material), camera);
  }

  /**
   * Draw what of `world` lies between two heights (0 to 1) with `samples` places a pixel (0: just one,
   * without averaging).
   */
  part(
    renderer: THREE.WebGLRenderer,
    world: THREE.Scene,
    camera: THREE.Camera,
    size: THREE.Vector2,
    samples: number,
    low: number,
    high: number,
  ): void {
    const [width, height] = size.toArray();
    let target = this.targets.get(samples);
    if (!target) {
      target = new THREE.WebGLRenderTarget(width, height, { type: THREE.HalfFloatType, samples });
      this.targets.set(samples, target);
    }
    if (target.width !== width || target.height !== height) target.setSize(width, height);
    const [from, to] = [Math.round(low * height), Math.round(high * height)];
    target.scissorTest = true;
    target.scissor.set(0, from, width, to - from);
    renderer.setRenderTarget(target);
    renderer.render(world, camera);
    renderer.setRenderTarget(null);
  }

  /** Add what was drawn with so many `samples` to what was drawn the `before` times before it. */
  add(renderer: THREE.WebGLRenderer, samples: number, before: number): void {
    if (samples) this.average(renderer, this.targets.get(samples)!, before);
  }

  /** The mean of what was drawn and added so far, in light. */
  get mean(): THREE.Texture {
    return this.sum.texture;
  }

  /** Show the mean of what was drawn with so many `samples`, `inAir`. */
  show(
    renderer: THREE.WebGLRenderer,
    exposure: number,
    samples: number,
    frame: number,
    optics: OpticsValues | null,
    inAir: (shown: THREE.WebGLRenderTarget) => THREE.Texture,
  ): void {
    const shown = samples ? this.sum : this.targets.get(samples)!;
    const { width, height } = shown;
    const light = inAir(shown);
    this.material.uniforms.light!.value = optics
      ? this.optics.apply(renderer, light, width, height, exposure, frame, optics)
      : light;
    renderer.setRenderTarget(null);
    this.material.uniforms.exposure!.value = optics ? 1 : exposure;
    this.quad.render(renderer);
  }

  private average(renderer: THREE.WebGLRenderer, target: THREE.WebGLRenderTarget, before: number): void {
    if (this.sum.width !== target.width || this.sum.height !== target.height)
      this.sum.setSize(target.width, target.height);
    const { uniforms } = this.adding.material as THREE.ShaderMaterial;
    uniforms.light!.value = target.texture;
    uniforms.share!.value = 1 / (before + 1);
    const { autoClear } = renderer;
    renderer.autoClear = before === 0;
    renderer.setRenderTarget(this.sum);
    this.adding.render(renderer);
    renderer.autoClear = autoClear;
  }

  dispose(): void {
    this.optics.dispose();
    this.sum.dispose();
    this.adding.material.dispose();
    this.adding.dispose();
    for (const target of this.targets.values()) target.dispose();
    this.material.dispose();
    this.quad.dispose();
  }
}
