import * as THREE from "three";
import { FullScreenQuad } from "three/addons/postprocessing/Pass.js";

const PLACE = `varying vec2 place;
void main() {
  place = uv;
  gl_Position = vec4( position.xy, 0.0, 1.0 );
}`;

type Uniforms = Record<
  string,
  | THREE.Texture
  | THREE.Data3DTexture
  | THREE.Vector2
  | THREE.Vector3
  | THREE.Vector4
  | THREE.Matrix4
  | (THREE.Vector2 | THREE.Vector4 | THREE.Matrix4)[]
  | number
>;

/** Draws whole pictures from pictures, each kind by a shader of its own; targets are kept by name. */
export class Passes {
  private readonly quads = new Map<string, FullScreenQuad>();
  private readonly targets = new Map<string, THREE.WebGLRenderTarget>();

  /** A picture of that name, black and so large; what was in it is gone where its size has changed. */
  target(name: string, width: number, height: number): THREE.WebGLRenderTarget {
    let target = this.targets.get(name);
    const [w, h] = [Math.max(1, Math.round(width)), Math.max(1, Math.round(height))];
    if (!target) {
      target = new THREE.WebGLRenderTarget(w, h, { type: THREE.HalfFloatType, depthBuffer: false });
      this.targets.set(name, target);
    }
    if (target.width !== w || target.height !== h) target.setSize(w, h);
    return target;
  }

  /** Draw a shader over a whole picture; `added`: on top of what is there. */
  draw(
    renderer: THREE.WebGLRenderer,
    shader: string,
    uniforms: Uniforms,
    into: THREE.WebGLRenderTarget,
    added = false,
  ): THREE.Texture {
    const name = `${added} ${shader}`;
    let quad = this.quads.get(name);
    if (!quad) {
      const material = new THREE.ShaderMaterial({
        vertexShader: PLACE,
        fragmentShader: `varying vec2 place;\n${shader}`,
        uniforms: Object.fromEntries(Object.entries(uniforms).map(([key, value]) => [key, { value }])),
        depthTest: false,
        depthWrite: false,
        ...(added && {
          transparent: true,
          blending: THREE.CustomBlending,
          blendSrc: THREE.OneFactor,
          blendDst: THREE.OneFactor,
        }),
      });
      quad = new FullScreenQuad(material);
      this.quads.set(name, quad);
    }
    const material = quad.material as THREE.ShaderMaterial;
    for (const [key, value] of Object.entries(uniforms)) material.uniforms[key]!.value = value;
    const { autoClear } = renderer;
    renderer.autoClear = !added;
    renderer.setRenderTarget(into);
    quad.render(renderer);
    renderer.setRenderTarget(null);
    renderer.autoClear = autoClear;
    return into.texture;
  }

  /** Make a picture black. */
  clear(renderer: THREE.WebGLRenderer, target: THREE.WebGLRenderTarget): void {
    const [colour, alpha] = [renderer.getClearColor(new THREE.Color()), renderer.getClearAlpha()];
    renderer.setClearColor(0x000000, 0);
    renderer.setRenderTarget(target);
    renderer.clear();
    renderer.setRenderTarget(null);
    renderer.setClearColor(colour, alpha);
  }

  dispose(): void {
    for (const target of this.targets.values()) target.dispose();
    for (const quad of this.quads.values()) {
      quad.material.dispose();
      quad.dispose();
    }
  }
}
