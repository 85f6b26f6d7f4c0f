import * as THREE from "three";
import type { Scene } from "../../document/scene";
import { BEFORE_LAYER } from "./before";

// Light that comes through air falls with the way, not with its square.
THREE.ShaderChunk.fog_fragment = THREE.ShaderChunk.fog_fragment.replace(
  "1.0 - exp( - fogDensity * fogDensity * vFogDepth * vFogDepth )",
  "1.0 - exp( - fogDensity * vFogDepth )",
);

const FULL = `void main() {
  gl_Position = vec4( position.xy, 0.0, 1.0 );
}`;
const VEIL = `uniform vec3 glow;
uniform float left;
void main() {
  gl_FragColor = vec4( glow * ( 1.0 - left ), 1.0 - left );
}`;

/** Air as even haze, lit by what is all around: things fade into it with distance, and the backdrop. */
export class AirView {
  private readonly fog = new THREE.FogExp2(0, 0);
  private readonly veil: THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial>;

  constructor(private readonly world: THREE.Scene) {
    const material = new THREE.ShaderMaterial({
      vertexShader: FULL,
      fragmentShader: VEIL,
      uniforms: { glow: { value: new THREE.Vector3() }, left: { value: 1 } },
      depthTest: false,
      depthWrite: false,
      blending: THREE.CustomBlending,
      blendSrc: THREE.OneFactor,
      blendDst: THREE.OneMinusSrcAlphaFactor,
    });
    this.veil = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material);
    this.veil.frustumCulled = false;
    // After the backdrop, before all things.
    this.veil.renderOrder = -1e6;
    this.veil.layers.set(BEFORE_LAYER);
    world.add(this.veil);
  }

  dispose(): void {
    this.veil.geometry.dispose();
    this.veil.material.dispose();
  }

  place(scene: Scene, frame: number): void {
    const there = scene.has("air");
    this.world.fog = there ? this.fog : null;
    this.veil.visible = there;
    if (!there) return;
    const [density, far, r, g, b] = scene.at("air", frame);
    this.fog.density = density!;
    this.fog.color.setRGB(r!, g!, b!, THREE.LinearSRGBColorSpace);
    const { uniforms } = this.veil.material;
    (uniforms.glow!.value as THREE.Vector3).set(r!, g!, b!);
    uniforms.left!.value = Math.exp(-density! * far!);
    this.veil.visible = far! > 0;
  }
}
