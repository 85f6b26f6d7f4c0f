import * as THREE from "three";
import type { Passes } from "./passes";

// As the core has it: six widths, each twice the one before; half of the widest lies within the radius.
const OCTAVES = 6;
const HALF_WIDTH = 1.1774;

/** What of the light is brighter than a threshold, beginning softly; all of it at 0. */
export const BRIGHTER = `vec3 brighter( vec3 light, float threshold, float knee ) {
  if ( threshold <= 0.0 ) return light;
  float bright = dot( light, vec3( 0.2126, 0.7152, 0.0722 ) );
  float soft = max( threshold * knee, 1e-6 );
  float over = clamp( bright - threshold + soft, 0.0, 2.0 * soft );
  float kept = max( over * over / ( 4.0 * soft ), bright - threshold );
  return light * max( kept, 0.0 ) / max( bright, 1e-6 );
}`;

export const BRIGHT = `uniform sampler2D light;
uniform float threshold, knee, exposure, most;
uniform vec2 texel;
${BRIGHTER}
void main() {
  vec3 sum = vec3( 0.0 );
  for ( int y = 0; y < 2; y ++ ) for ( int x = 0; x < 2; x ++ )
    sum += min( brighter( max( texture2D( light, place + ( vec2( x, y ) - 0.5 ) * texel ).rgb, 0.0 ) * exposure, threshold, knee ), vec3( most ) );
  gl_FragColor = vec4( sum / 4.0, 1.0 );
}`;

const HALVE = `uniform sampler2D light;
uniform vec2 texel;
void main() {
  vec3 sum = vec3( 0.0 );
  for ( int y = 0; y < 2; y ++ ) for ( int x = 0; x < 2; x ++ )
    sum += texture2D( light, place + ( vec2( x, y ) - 0.5 ) * texel * 2.0 ).rgb;
  gl_FragColor = vec4( sum / 4.0, 1.0 );
}`;

const GAUSS = `uniform sampler2D light;
uniform vec2 way;
uniform float sigma;
void main() {
  vec3 sum = vec3( 0.0 );
  float whole = 0.0;
  for ( int k = -6; k <= 6; k ++ ) {
    float weight = exp( -0.5 * float( k * k ) / ( sigma * sigma ) );
    sum += texture2D( light, place + way * float( k ) ).rgb * weight;
    whole += weight;
  }
  gl_FragColor = vec4( sum / whole, 1.0 );
}`;

const SHARE = `uniform sampler2D light;
uniform float share;
void main() { gl_FragColor = vec4( texture2D( light, place ).rgb * share, 1.0 ); }`;

export interface Spreading {
  threshold: number;
  knee: number;
  exposure: number;
  /** In shares of the picture's height. */
  radius: number;
  falloff: number;
}

/** Light under a kernel of all widths together, at half the size. */
export function spread(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  name: string,
  light: THREE.Texture,
  width: number,
  height: number,
  { threshold, knee, exposure, radius, falloff }: Spreading,
): THREE.Texture {
  const sum = passes.target(`${name} sum`, width / 2, height / 2);
  passes.clear(renderer, sum);
  let level = passes.target(`${name} 1`, width / 2, height / 2);
  const texel = new THREE.Vector2(1 / width, 1 / height);
  passes.draw(renderer, BRIGHT, { light, threshold, knee, exposure, most: 6e4, texel }, level);
  const weights = Array.from({ length: OCTAVES }, (_, i) => 2 ** (-falloff * i));
  const whole = weights.reduce((a, b) => a + b, 0);
  let share = 2;
  for (let i = 0; i < OCTAVES; i++) {
    const sigma = ((radius * height) / HALF_WIDTH) * 2 ** (i - OCTAVES + 1);
    while (sigma / share > 2.6 && Math.min(level.width, level.height) > 4) {
      share *= 2;
      const smaller = passes.target(`${name} ${share}`, level.width / 2, level.height / 2);
      const step = new THREE.Vector2(0.5 / level.width, 0.5 / level.height);
      passes.draw(renderer, HALVE, { light: level.texture, texel: step }, smaller);
      level = smaller;
    }
    const across = passes.target(`${name} across ${share}`, level.width, level.height);
    const soft = passes.target(`${name} soft ${share}`, level.width, level.height);
    const width_ = Math.max(0.35, Math.sqrt(Math.max(0.1, sigma ** 2 - share ** 2 / 4)) / share);
    const ways = [new THREE.Vector2(1 / level.width, 0), new THREE.Vector2(0, 1 / level.height)];
    passes.draw(renderer, GAUSS, { light: level.texture, way: ways[0]!, sigma: width_ }, across);
    passes.draw(renderer, GAUSS, { light: across.texture, way: ways[1]!, sigma: width_ }, soft);
    passes.draw(renderer, SHARE, { light: soft.texture, share: weights[i]! / whole }, sum, true);
  }
  return sum.texture;
}
