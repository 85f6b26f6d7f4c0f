import type * as THREE from "three";

/** Numbers of a reveal at a frame, and where its waves begin, as the core counts them. */
const ROW = 58;
const WAVES = 8;

const UNCOVERED = `
uniform float revealRow[${ROW}];
varying vec3 vRoom;
float revealStep(float low, float high, float at) {
  float share = clamp((at - low) / (high - low), 0.0, 1.0);
  return share * share * (3.0 - 2.0 * share);
}
vec3 revealThree(int first) {
  return vec3(revealRow[first], revealRow[first + 1], revealRow[first + 2]);
}
// How much of a point is there, and how strongly the edge glows at it.
vec2 uncovered() {
  vec3 q = vec3(
    dot(revealThree(0), vRoom) + revealRow[3],
    dot(revealThree(4), vRoom) + revealRow[7],
    dot(revealThree(8), vRoom) + revealRow[11]);
  float v = (q.x * revealRow[13] + q.y * revealRow[14] - revealRow[15]) * revealRow[16];
  if (revealRow[12] > 1.5)
    v = fract((atan(q.y, q.x) - atan(revealRow[14], revealRow[13])) / 6.283185307);
  else if (revealRow[12] > 0.5) v = length(q.xy) * revealRow[16];
  float noise = 0.0;
  for (int wave = 0; wave < ${WAVES}; wave++)
    noise += sin(dot(revealThree(26 + 4 * wave), q) + revealRow[29 + 4 * wave]);
  v += revealRow[22] * noise / ${2 * WAVES}.0;
  float there = revealStep(revealRow[17], revealRow[18], v) * (1.0 - revealStep(revealRow[19], revealRow[20], v));
  float inside = revealRow[21] *
    min(v - (revealRow[17] + revealRow[18]) / 2.0, (revealRow[19] + revealRow[20]) / 2.0 - v);
  float edge = clamp(1.0 - max(inside, 0.0), 0.0, 1.0);
  return vec2(there, there * edge * edge);
}
void main()`;

export interface RevealUniforms {
  revealRow: { value: Float32Array };
}

export const revealUniforms = (): RevealUniforms => ({ revealRow: { value: new Float32Array(ROW) } });

/** Have a shader draw only what is uncovered, and the glow of its edge; in depth alone what is half there. */
export function uncover(
  shader: { vertexShader: string; fragmentShader: string; uniforms: object },
  uniforms: RevealUniforms,
  depth: boolean,
): void {
  Object.assign(shader.uniforms, uniforms);
  shader.vertexShader = shader.vertexShader
    .replace("void main()", "varying vec3 vRoom;\nvoid main()")
    .replace(
      "#include <project_vertex>",
      "#include <project_vertex>\nvRoom = (modelMatrix * vec4(transformed, 1.0)).xyz;",
    );
  shader.fragmentShader = shader.fragmentShader.replace("void main()", UNCOVERED).replace(
    "#include <alphamap_fragment>",
    `#include <alphamap_fragment>
      vec2 revealed = uncovered();
      if (revealed.x < ${depth ? "0.5" : "0.004"}) discard;
      diffuseColor.a *= revealed.x;`,
  );
  if (depth) return;
  shader.fragmentShader = shader.fragmentShader.replace(
    "#include <emissivemap_fragment>",
    `#include <emissivemap_fragment>
    totalEmissiveRadiance += revealThree(23) * revealed.y;`,
  );
}

/** Show of a thing what the core says of this frame; whether all of it is there. */
export function setReveal(material: THREE.Material, uniforms: RevealUniforms, row: ArrayLike<number>): void {
  uniforms.revealRow.value.set(row);
  // The edges are beyond both ends.
  material.userData.partly = row[18]! > -row[22]! / 2 || row[19]! < 1 + row[22]! / 2;
}
