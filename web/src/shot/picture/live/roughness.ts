import * as THREE from "three";

/**
 * How much rougher a surface looks whose normals turn within a pixel: the variance that a pixel's kernel
 * gathers is added to the squared width of its microfacets (Tokuyoshi and Kaplanyan, Stable geometric
 * specular antialiasing with projected-space NDF filtering, JCGT 10 (2), 2021, listing 1). Pictures that are
 * averaged from places within the pixel gather it themselves, but for what each spans.
 */
const VARIANCE = `
vec3 turnAcross = dFdx( nonPerturbedNormal ), turnUp = dFdy( nonPerturbedNormal );
float turnKernel = nearOn > 0.5 ? 0.5 / 16.0 : 0.5;
float turnVariance = min( turnKernel * ( dot( turnAcross, turnAcross ) + dot( turnUp, turnUp ) ), 0.18 );
`;
const filtered = (roughness: string) => `${roughness} = sqrt( sqrt( pow4( ${roughness} ) + turnVariance ) );`;

/** Materials in three's shader, with that in the place of its own estimate, which has no bound. */
export function filteredRoughness(): string {
  let text = THREE.ShaderChunk.lights_physical_fragment;
  const put = (before: RegExp, after: string) => {
    if (!before.test(text)) throw new Error(`the shader of this version has no ${before.source}`);
    text = text.replace(before, after);
  };
  put(/vec3 dxy = [^;]*;\s*float geometryRoughness = [^;]*;/, VARIANCE);
  put(/material\.roughness \+= geometryRoughness;/, filtered("material.roughness"));
  put(/material\.clearcoatRoughness \+= geometryRoughness;/, filtered("material.clearcoatRoughness"));
  return text;
}
