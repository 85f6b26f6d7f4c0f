import * as THREE from "three";
import type { Passes } from "./passes";
import { BRIGHT, spread } from "./spread";

const DOUBLINGS = 8;
/** What is left of a ray at its end. */
const RAY_END = 0.03;

const ALONG = `uniform sampler2D light;
uniform vec2 way;
uniform float left;
void main() {
  vec2 from = place - way;
  float inside = step( 0.0, from.x ) * step( from.x, 1.0 ) * step( 0.0, from.y ) * step( from.y, 1.0 );
  gl_FragColor = vec4( texture2D( light, place ).rgb + left * inside * texture2D( light, from ).rgb, 1.0 );
}`;

const ADD = `uniform sampler2D light;
uniform float share;
void main() { gl_FragColor = vec4( texture2D( light, place ).rgb * share, 1.0 ); }`;

const NEARER = `uniform sampler2D light;
uniform vec2 centre;
uniform float scale, left;
void main() {
  vec2 from = centre + ( place - centre ) / scale;
  float inside = step( 0.0, from.x ) * step( from.x, 1.0 ) * step( 0.0, from.y ) * step( from.y, 1.0 );
  vec3 sum = texture2D( light, place ).rgb + left * inside * texture2D( light, from ).rgb;
  gl_FragColor = vec4( sum / ( 1.0 + left ), 1.0 );
}`;

/** Arms are as bright as this many times what one highlight leaves along them, as in the core. */
export const ARM = 12;

const SMALL = `uniform sampler2D light, soft;
void main() {
  vec3 small = texture2D( light, place ).rgb - 1.5 * texture2D( soft, place ).rgb;
  gl_FragColor = vec4( max( small, 0.0 ), 1.0 );
}`;

/** Lines through what is bright, as the core draws them: doubled again and again along a direction. */
export function streaks(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  light: THREE.Texture,
  width: number,
  height: number,
  of: { angle: number; length: number; threshold: number; knee: number },
): THREE.Texture {
  const share = Math.max(2, Math.min(8, Math.floor((of.length * height) / 24)));
  const [w, h] = [Math.max(2, width / share), Math.max(2, height / share)];
  const start = passes.target("streak start", w, h);
  const texel = new THREE.Vector2(1 / w / 2, 1 / h / 2);
  passes.draw(
    renderer,
    BRIGHT,
    { light, threshold: of.threshold, knee: of.knee, exposure: 1, most: 6e4, texel },
    start,
  );
  const sum = passes.target("streak sum", w, h);
  passes.clear(renderer, sum);
  along(passes, renderer, start, sum, of.angle, (of.length * height) / share / 3);
  return sum.texture;
}

/** Stars on small highlights, as the core draws them; what is around a highlight is taken more coarsely. */
export function glints(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  light: THREE.Texture,
  width: number,
  height: number,
  of: (name: string) => number,
): THREE.Texture {
  const [length, threshold] = [of("glints/length"), of("glints/threshold")];
  const share = Math.max(1, Math.min(8, Math.floor((length * height) / 24)));
  const [w, h] = [Math.max(2, width / share), Math.max(2, height / share)];
  const bright = passes.target("glints bright", w, h);
  const texel = new THREE.Vector2(1 / w / 2, 1 / h / 2);
  const from = { light, threshold, knee: 0.25, exposure: 1, most: 6e4, texel };
  passes.draw(renderer, BRIGHT, from, bright);
  const soft = spread(passes, renderer, "glints around", light, width, height, {
    threshold,
    knee: 0.25,
    exposure: 1,
    radius: of("glints/size") * 2.4,
    falloff: -8,
  });
  const small = passes.target("glints small", w, h);
  passes.draw(renderer, SMALL, { light: bright.texture, soft }, small);
  const sum = passes.target("glints stars", w, h);
  passes.clear(renderer, sum);
  const lines = Math.max(1, Math.round(of("glints/points") / 2));
  for (let line = 0; line < lines; line++) {
    const reach = (length * height) / share / 3;
    along(passes, renderer, small, sum, of("glints/angle") + (180 * line) / lines, reach);
  }
  return sum.texture;
}

/** Add a picture drawn out along a direction, both ways, to a sum. */
function along(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  start: THREE.WebGLRenderTarget,
  sum: THREE.WebGLRenderTarget,
  angle: number,
  reach: number,
): void {
  const { width: w, height: h } = start;
  const turn = (angle * Math.PI) / 180;
  const norm = Math.max(1, 2 * reach);
  for (const sign of [1, -1]) {
    let part = start.texture;
    for (let step = 1, k = 0; step < reach * 6; step *= 2, k++) {
      const way = new THREE.Vector2((Math.cos(turn) * sign * step) / w, (Math.sin(turn) * sign * step) / h);
      const next = passes.target(`streak ${k % 2}`, w, h);
      part = passes.draw(
        renderer,
        ALONG,
        { light: part, way, left: Math.exp(-step / Math.max(reach, 1e-3)) },
        next,
      );
    }
    passes.draw(renderer, ADD, { light: part, share: 1 / norm }, sum, true);
  }
  passes.draw(renderer, ADD, { light: start.texture, share: -1 / norm }, sum, true);
}

/**
 * Light drawn outward from a place, as the core does it: averaged over pictures ever larger about it, ever
 * fainter.
 */
export function rays(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  light: THREE.Texture,
  width: number,
  height: number,
  of: { x: number; y: number; length: number; threshold: number },
): THREE.Texture {
  const [w, h] = [Math.max(2, width / 2), Math.max(2, height / 2)];
  const texel = new THREE.Vector2(1 / width, 1 / height);
  let drawn = passes.draw(
    renderer,
    BRIGHT,
    { light, threshold: of.threshold, knee: 0.5, exposure: 1, most: 40, texel },
    passes.target("rays start", w, h),
  );
  const step = (1 - 0.92 * of.length) ** (1 / (2 ** DOUBLINGS - 1));
  const fading = RAY_END ** (1 / (2 ** DOUBLINGS - 1));
  const centre = new THREE.Vector2(of.x, 1 - of.y);
  for (let k = 0; k < DOUBLINGS; k++)
    drawn = passes.draw(
      renderer,
      NEARER,
      { light: drawn, centre, scale: step ** -(2 ** k), left: fading ** (2 ** k) },
      passes.target(`rays ${k % 2}`, w, h),
    );
  return drawn;
}
