import * as THREE from "three";
import type { Passes } from "./passes";
import { CHANNELS } from "../mattes";
import type { OpticsValues } from "./values";

/** How much of an effect is at work at a place: the core's `optics/area.py`. */
export const AREA = `
float areaShare( vec2 place, vec2 size, vec4 at, vec4 how ) {
  vec2 away = vec2( ( place.x - at.x ) * size.x / size.y, place.y - 1.0 + at.y );
  vec2 turned = abs( vec2( away.x * cos( how.x ) + away.y * sin( how.x ), away.y * cos( how.x ) - away.x * sin( how.x ) ) );
  vec2 halves = turned * 2.0 / max( at.zw, vec2( 0.001 ) );
  float reach = mix( max( halves.x, halves.y ), length( halves ), how.y );
  float soft = max( how.z, 0.001 );
  float t = clamp( ( 1.0 + soft / 2.0 - reach ) / soft, 0.0, 1.0 );
  float inside = t * t * ( 3.0 - 2.0 * t );
  return how.w > 0.0 ? 1.0 - how.w * ( 1.0 - inside ) : 1.0 + how.w * inside;
}
float toneShare( vec3 lit, vec3 how ) {
  if ( how.x == 0.0 ) return 1.0;
  float stops = log2( max( dot( lit, vec3( 0.2126, 0.7152, 0.0722 ) ), 1e-7 ) / 0.18 );
  float t = clamp( ( stops - how.y ) / max( how.z, 0.01 ) + 0.5, 0.0, 1.0 );
  float bright = t * t * ( 3.0 - 2.0 * t );
  return how.x > 0.0 ? 1.0 - how.x * ( 1.0 - bright ) : 1.0 + how.x * bright;
}
`;

const MIX = `uniform sampler2D light, before;
uniform vec2 size;
uniform vec4 areaAt, areaHow;
uniform vec3 areaTone;
uniform sampler2D areaMatte;
uniform vec4 areaChannel;
${AREA}
void main() {
  vec4 was = texture2D( before, place );
  float share = areaShare( place, size, areaAt, areaHow ) * toneShare( was.rgb, areaTone )
    * dot( texture2D( areaMatte, place ), areaChannel );
  gl_FragColor = mix( was, texture2D( light, place ), share );
}`;

/** The matte of what goes by nothing that is seen. */
const ALL = new THREE.DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
ALL.needsUpdate = true;

/** The numbers of the area of an effect, as shaders take them under a name. */
export function areaUniforms(
  of: OpticsValues,
  effect: string,
  name: string,
): Record<string, THREE.Vector4 | THREE.Vector3 | THREE.Texture> {
  const channel = CHANNELS.map((one) => (one === effect ? 1 : 0));
  const value = (part: string) => of(`${effect}/area/${part}`);
  return {
    [`${name}At`]: new THREE.Vector4(value("x"), value("y"), value("width"), value("height")),
    [`${name}How`]: new THREE.Vector4(
      THREE.MathUtils.degToRad(value("angle")),
      value("roundness"),
      value("softness"),
      value("limited"),
    ),
    [`${name}Matte`]: of.matte ?? ALL,
    [`${name}Channel`]: new THREE.Vector4(...channel),
    [`${name}Tone`]: new THREE.Vector3(value("tone"), value("level"), value("tone_softness")),
  };
}

/** A picture after an effect, where that is at work; before it elsewhere. */
export function within(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  effect: string,
  before: THREE.Texture,
  light: THREE.Texture,
  size: THREE.Vector2,
  of: OpticsValues,
): THREE.Texture {
  const whole = of(`${effect}/area/limited`) === 0 && of(`${effect}/area/tone`) === 0 && !of.matte;
  if (light === before || whole) return light;
  return passes.draw(
    renderer,
    MIX,
    { light, before, size, ...areaUniforms(of, effect, "area") },
    passes.target(`within ${effect}`, size.x, size.y),
  );
}
