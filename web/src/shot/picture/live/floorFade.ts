import * as THREE from "three";

export interface FadeUniforms {
  /** Metres until a floor has gone over into what is behind it, and its place: x and z. */
  floorFade: { value: THREE.Vector3 };
}

export const fadeUniforms = (): FadeUniforms => ({ floorFade: { value: new THREE.Vector3() } });

/** Have a shader let a floor go over into what is behind it, as the traced picture does. */
export function fadeOut(shader: { vertexShader: string; fragmentShader: string }): void {
  shader.vertexShader = shader.vertexShader
    .replace("void main()", "varying vec2 vGround;\nvoid main()")
    .replace(
      "#include <project_vertex>",
      "#include <project_vertex>\nvGround = (modelMatrix * vec4(transformed, 1.0)).xz;",
    );
  shader.fragmentShader = shader.fragmentShader
    .replace("void main()", "uniform vec3 floorFade;\nvarying vec2 vGround;\nvoid main()")
    .replace(
      "#include <alphamap_fragment>",
      `#include <alphamap_fragment>
      diffuseColor.a *= 1.0 - smoothstep(0.3, 1.0, distance(vGround, floorFade.yz) / floorFade.x);
      if (diffuseColor.a < 0.002) discard;`,
    );
}

/** Have a floor end so far from its place: the translation of its matrix (row by row). */
export function setFade(
  material: THREE.Material,
  uniforms: FadeUniforms,
  metres: number,
  matrix: ArrayLike<number>,
): void {
  uniforms.floorFade.value.set(metres, matrix[3]!, matrix[11]!);
  material.userData.partly = true;
}
