import * as THREE from "three";

/** Where the shoulder of the core's view transform starts. */
export const SHOULDER = 0.6;

const CURVE = `vec3 CustomToneMapping( vec3 color ) {
  vec3 lit = max( color * toneMappingExposure, vec3( 0.0 ) );
  vec3 bent = 1.0 - ${(1 - SHOULDER).toFixed(4)} * exp( - ( lit - ${SHOULDER.toFixed(4)} ) / ${(1 - SHOULDER).toFixed(4)} );
  return mix( bent, lit, vec3( lessThanEqual( lit, vec3( ${SHOULDER.toFixed(4)} ) ) ) );
}`;

let taught = false;

/** Give a renderer the core's view transform: straight to the shoulder, then towards 1. */
export function fitting(renderer: THREE.WebGLRenderer): void {
  if (!taught) {
    taught = true;
    const chunk = THREE.ShaderChunk as Record<string, string>;
    const plain = "vec3 CustomToneMapping( vec3 color ) { return color; }";
    if (!chunk.tonemapping_pars_fragment!.includes(plain)) throw new Error("The place for the view transform is gone.");
    chunk.tonemapping_pars_fragment = chunk.tonemapping_pars_fragment!.replace(plain, CURVE);
  }
  renderer.toneMapping = THREE.CustomToneMapping;
  renderer.outputColorSpace = THREE.SRGBColorSpace;
}
