import * as THREE from "three";
import type { Passes } from "./passes";
import type { OpticsValues } from "./values";

/** Glow, star and ghosts of a light, with the core's lens (`optics/steps/flare.py`). */
const FLARE = `uniform vec2 size, at;
uniform float wide, star, blades, turn, ghosts, spread;
uniform vec3 tint;
const float PI = 3.14159265359;
float opening( vec2 p ) {
  float sector = 2.0 * PI / blades;
  float within = mod( atan( p.y, p.x ) + turn, sector ) - sector / 2.0;
  return length( p ) * cos( within ) / cos( sector / 2.0 );
}
vec3 ghost( vec2 p, float along, float large, float bright, vec3 colour ) {
  float shape = opening( p + at * ( along - 1.0 ) * spread ) / large;
  float inside = clamp( ( 1.0 - shape ) / 0.08 + 0.5, 0.0, 1.0 );
  return inside * ( 0.6 + 0.4 * pow( min( shape, 1.0 ), 4.0 ) ) * 0.06 * bright * ghosts * colour;
}
void main() {
  vec2 p = ( place - 0.5 ) * vec2( size.x / size.y, 1.0 );
  vec2 d = p - at;
  float away = length( d );
  float glow = pow( 1.0 + away * away / ( wide * wide ), -1.2 );
  float rays = mod( blades, 2.0 ) < 0.5 ? blades : 2.0 * blades;
  float ray = pow( abs( cos( ( atan( d.y, d.x ) + turn ) * rays / 2.0 ) ), 220.0 );
  vec3 made = ( glow + ray * exp( - away / ( wide * 9.0 ) ) * star ) * tint;
  made += ghost( p, 0.42, 0.020, 0.55, vec3( 1.0, 0.72, 0.42 ) );
  made += ghost( p, 0.70, 0.038, 0.22, vec3( 0.55, 1.0, 0.62 ) );
  made += ghost( p, 1.22, 0.060, 0.16, vec3( 0.42, 0.66, 1.0 ) );
  made += ghost( p, 1.48, 0.026, 0.50, vec3( 1.0, 0.46, 0.30 ) );
  made += ghost( p, 1.74, 0.090, 0.10, vec3( 0.62, 0.52, 1.0 ) );
  made += ghost( p, 2.12, 0.140, 0.07, vec3( 0.40, 0.92, 1.0 ) );
  gl_FragColor = vec4( made, 1.0 );
}`;

/** What a light adds to the picture, at half its size. */
export function flare(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  width: number,
  height: number,
  of: OpticsValues,
): THREE.Texture {
  return passes.draw(
    renderer,
    FLARE,
    {
      size: new THREE.Vector2(width, height),
      at: new THREE.Vector2(((of("flare/x") - 0.5) * width) / height, 0.5 - of("flare/y")),
      wide: of("flare/size"),
      star: of("flare/star"),
      blades: Math.max(3, Math.round(of("flare/blades"))),
      turn: THREE.MathUtils.degToRad(of("flare/turn")),
      ghosts: of("flare/ghosts"),
      spread: of("flare/spread"),
      tint: new THREE.Vector3(of("flare/tint/r"), of("flare/tint/g"), of("flare/tint/b")),
    },
    passes.target("flare", width / 2, height / 2),
  );
}
