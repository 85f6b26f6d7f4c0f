import * as THREE from "three";

/**
 * How one floor mirrors what stands on it: the picture, and where on it a place of the floor lies (from
 * view space).
 */
export interface MirrorUniforms {
  mirrorMap: { value: THREE.Texture | null };
  mirrorMatrix: { value: THREE.Matrix4 };
  /** 0: nothing is mirrored. */
  mirrorOn: { value: number };
}

export const mirrorUniforms = (): MirrorUniforms => ({
  mirrorMap: { value: null },
  mirrorMatrix: { value: new THREE.Matrix4() },
  mirrorOn: { value: 0 },
});

export const MIRROR_PARS = `uniform sampler2D mirrorMap;
uniform mat4 mirrorMatrix;
uniform float mirrorOn;
vec4 mirrored( vec3 lean, float rough ) {
  vec4 at = mirrorMatrix * vec4( - vViewPosition, 1.0 );
  vec2 place = at.xy / at.w + lean.xy * vec2( 0.12, 0.45 );
  float wide = rough * rough * float( textureSize( mirrorMap, 0 ).y ) * 0.5;
  return textureLod( mirrorMap, place, clamp( log2( max( wide, 1.0 ) ), 0.0, 7.0 ) ) * mirrorOn;
}`;

/** What stands on a floor lies over what the floor mirrors of the surroundings. */
export const MIRROR = `#include <lights_fragment_maps>
#if defined( RE_IndirectSpecular )
  vec4 met = mirrored( normal - nonPerturbedNormal, material.roughness );
  radiance = radiance * ( 1.0 - met.a ) + met.rgb;
  #ifdef USE_CLEARCOAT
    vec4 coat = mirrored( vec3( 0.0 ), material.clearcoatRoughness );
    clearcoatRadiance = clearcoatRadiance * ( 1.0 - coat.a ) + coat.rgb;
  #endif
#endif`;

const BIAS = new THREE.Matrix4().set(0.5, 0, 0, 0.5, 0, 0.5, 0, 0.5, 0, 0, 0.5, 0.5, 0, 0, 0, 1);

/** Draws what a floor mirrors: the world from below, as a camera on the other side of the floor sees it. */
export class Mirror {
  private readonly targets = new Map<string, THREE.WebGLRenderTarget>();
  private readonly camera = new THREE.PerspectiveCamera();

  /** Draw the world as the floor called `name` (its group hidden) mirrors it, into its uniforms. */
  draw(
    renderer: THREE.WebGLRenderer,
    world: THREE.Scene,
    camera: THREE.PerspectiveCamera,
    name: string,
    floor: THREE.Matrix4,
    size: THREE.Vector2,
    uniforms: MirrorUniforms,
  ): void {
    const origin = new THREE.Vector3().setFromMatrixPosition(floor);
    const normal = new THREE.Vector3(0, 1, 0).transformDirection(floor);
    const eye = camera.position.clone().sub(origin);
    uniforms.mirrorOn.value = 0;
    // From below there is nothing to be mirrored.
    if (eye.dot(normal) <= 1e-4) return;
    const target = this.target(name, size);
    const flip = (v: THREE.Vector3) => v.sub(normal.clone().multiplyScalar(2 * v.dot(normal)));
    const forward = new THREE.Vector3();
    camera.getWorldDirection(forward);
    const up = new THREE.Vector3(0, 1, 0).applyQuaternion(camera.quaternion);
    this.camera.position.copy(origin).add(flip(eye.clone()));
    this.camera.up.copy(flip(up));
    this.camera.lookAt(this.camera.position.clone().add(flip(forward.clone())));
    this.camera.fov = camera.fov;
    this.camera.aspect = camera.aspect;
    this.camera.near = camera.near;
    this.camera.far = camera.far;
    this.camera.updateProjectionMatrix();
    this.camera.updateMatrixWorld();
    this.clip(normal, origin);
    uniforms.mirrorMatrix.value
      .copy(BIAS)
      .multiply(this.camera.projectionMatrix)
      .multiply(this.camera.matrixWorldInverse)
      .multiply(camera.matrixWorld);
    const { background } = world;
    const alpha = renderer.getClearAlpha();
    world.background = null;
    renderer.setClearAlpha(0);
    renderer.setRenderTarget(target);
    renderer.clear();
    renderer.render(world, this.camera);
    renderer.setRenderTarget(null);
    renderer.setClearAlpha(alpha);
    world.background = background;
    uniforms.mirrorMap.value = target.texture;
    uniforms.mirrorOn.value = 1;
  }

  /**
   * Nothing below the floor is mirrored: the near plane becomes the floor (Lengyel, Oblique view frustum
   * depth projection and clipping, 2005).
   */
  private clip(normal: THREE.Vector3, origin: THREE.Vector3): void {
    const plane = new THREE.Plane()
      .setFromNormalAndCoplanarPoint(normal, origin)
      .applyMatrix4(this.camera.matrixWorldInverse);
    const cut = new THREE.Vector4(plane.normal.x, plane.normal.y, plane.normal.z, plane.constant);
    const { elements } = this.camera.projectionMatrix;
    const corner = new THREE.Vector4(
      (Math.sign(cut.x) + elements[8]!) / elements[0]!,
      (Math.sign(cut.y) + elements[9]!) / elements[5]!,
      -1,
      (1 + elements[10]!) / elements[14]!,
    );
    cut.multiplyScalar(2 / cut.dot(corner));
    elements[2] = cut.x;
    elements[6] = cut.y;
    elements[10] = cut.z + 1 - 0.001;
    elements[14] = cut.w;
  }

  private target(name: string, size: THREE.Vector2): THREE.WebGLRenderTarget {
    const [width, height] = [Math.max(2, Math.floor(size.x / 2)), Math.max(2, Math.floor(size.y / 2))];
    let target = this.targets.get(name);
    if (!target) {
      target = new THREE.WebGLRenderTarget(width, height, {
        type: THREE.HalfFloatType,
        generateMipmaps: true,
        minFilter: THREE.LinearMipmapLinearFilter,
      });
      this.targets.set(name, target);
    }
    if (target.width !== width || target.height !== height) target.setSize(width, height);
    return target;
  }

  dispose(): void {
    for (const target of this.targets.values()) target.dispose();
  }
}
