import * as THREE from "three";
import type { Schemas } from "../../../api/client";

export type Blend = Schemas["BodyFacts"]["blend"];

/** Of what multiplies only the colour counts, whatever falls on it. */
export const FILTERS = `
gl_FragColor = vec4( mix( vec3( 1.0 ), diffuseColor.rgb, diffuseColor.a ), 1.0 );
`;

/** Have a material laid over what is behind it, in scene light; the share taken up stays what it is. */
export function layOver(material: THREE.Material, blend: Blend): void {
  if (blend === "normal") return;
  material.transparent = true;
  material.depthWrite = false;
  material.premultipliedAlpha = true;
  material.blending = THREE.CustomBlending;
  material.blendEquation = THREE.AddEquation;
  material.blendSrc = blend === "multiply" ? THREE.ZeroFactor : THREE.OneFactor;
  material.blendDst = {
    add: THREE.OneFactor,
    screen: THREE.OneMinusSrcColorFactor,
    multiply: THREE.SrcColorFactor,
  }[blend];
  material.blendSrcAlpha = THREE.ZeroFactor;
  material.blendDstAlpha = THREE.OneFactor;
}
