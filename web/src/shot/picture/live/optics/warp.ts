import * as THREE from "three";
import { within } from "./area";
import type { Passes } from "./passes";
import type { OpticsValues } from "./values";

/**
 * The picture bent: bulge and twirl about a place, rings around it, shimmer, what a picture moves, strips
 * that jump aside. The core's `optics/steps/bend.py`.
 */
const BEND = `uniform sampler2D light, moving;
uniform vec2 size, middle;
uniform float bulge, twirl, reach, ripple, shimmer, wave, phase;
uniform float broken, strip, torn, lie, displaced;
uniform int seed;
const float TURN = 6.28318530718;
vec2 trembled( vec2 at, float angle, float longer, float pace ) {
  float along = dot( at, vec2( cos( angle ), sin( angle ) ) ) * TURN / ( wave * longer );
  float lift = shimmer / 4.0 * sin( along + phase * pace + 7.0 * angle );
  return lift * vec2( cos( 3.0 * angle ), sin( 3.0 * angle + 1.0 ) );
}
float chance( int number, int which ) {
  uint state = uint( number ) * 2654435761u + uint( seed * 3 + which );
  state = state * 747796405u + 2891336453u;
  uint word = ( ( state >> ( ( state >> 28u ) + 4u ) ) ^ state ) * 277803737u;
  word = ( word >> 22u ) ^ word;
  return float( word >> 8u ) / 16777216.0;
}
float begins( int number ) {
  return float( number ) + 0.7 * ( chance( number, 0 ) - 0.5 );
}
vec2 jumped( vec2 at ) {
  vec2 along = vec2( cos( lie ), - sin( lie ) );
  float across = ( at.y * along.x - at.x * along.y ) / strip;
  int number = int( floor( across ) );
  if ( across < begins( number ) ) number --;
  else if ( across >= begins( number + 1 ) ) number ++;
  float jump = chance( number, 2 ) < torn ? 2.0 * chance( number, 1 ) - 1.0 : 0.0;
  return at - broken * jump * along;
}
void main() {
  vec2 at = vec2( ( place.x - middle.x ) * size.x / size.y, 1.0 - place.y - middle.y );
  float away = length( at );
  float inside = clamp( 1.0 - away / reach, 0.0, 1.0 );
  float fade = inside * inside * ( 3.0 - 2.0 * inside );
  float turn = twirl * fade, scale = 1.0 - 0.75 * bulge * fade;
  vec2 from = scale * vec2( cos( turn ) * at.x - sin( turn ) * at.y, sin( turn ) * at.x + cos( turn ) * at.y );
  from += ripple * sin( TURN * away / wave - phase ) * min( away / wave, 1.0 ) * at / max( away, 1e-6 );
  from += trembled( at, 0.3, 1.0, 1.0 ) + trembled( at, 1.9, 1.37, -0.8 ) + trembled( at, 2.8, 1.83, 0.6 )
    + trembled( at, 4.4, 2.6, -1.1 );
  if ( displaced != 0.0 ) {
    vec2 far = clamp( ( texture2D( moving, place ).rg * 255.0 - 128.0 ) / 127.0, -1.0, 1.0 );
    from += displaced * vec2( - far.x, far.y );
  }
  if ( broken > 0.0 ) from = jumped( from );
  gl_FragColor = texture2D( light, vec2( from.x * size.y / size.x + middle.x, 1.0 - from.y - middle.y ) );
}`;

/** The picture drawn out along a line, towards a place and around it: means of 64 places on each way. */
const BLUR = `uniform sampler2D light;
uniform vec2 size, middle, way;
uniform float zoom, spin;
void main() {
  vec3 sum = vec3( 0.0 );
  float wide = size.x / size.y;
  vec2 at = ( place - middle ) * vec2( wide, 1.0 );
  for ( int k = 0; k < 64; k ++ ) {
    float share = ( float( k ) + 0.5 ) / 64.0 - 0.5;
    float turn = spin * share, scale = exp( - zoom * share );
    vec2 from = scale * vec2( cos( turn ) * at.x + sin( turn ) * at.y, cos( turn ) * at.y - sin( turn ) * at.x );
    sum += texture2D( light, from / vec2( wide, 1.0 ) + middle - way * share ).rgb;
  }
  gl_FragColor = vec4( sum / 64.0, 1.0 );
}`;

/** The picture moved, turned and enlarged, as film in its gate has it. */
const WEAVE = `uniform sampler2D light;
uniform vec2 size, shift;
uniform float turn, larger;
void main() {
  vec2 wide = vec2( size.x / size.y, 1.0 );
  vec2 at = ( place - 0.5 ) * wide - shift;
  vec2 from = vec2( cos( turn ) * at.x + sin( turn ) * at.y, cos( turn ) * at.y - sin( turn ) * at.x ) / larger;
  gl_FragColor = texture2D( light, from / wide + 0.5 );
}`;

const BENDING = ["bulge", "twirl", "ripple", "shimmer", "broken"];

/** The picture after bending and drawing out; itself where neither does anything. */
export function warped(
  passes: Passes,
  renderer: THREE.WebGLRenderer,
  shown: THREE.Texture,
  width: number,
  height: number,
  of: OpticsValues,
  moving: THREE.Texture | null,
): THREE.Texture {
  const size = new THREE.Vector2(width, height);
  let light = shown;
  const displaced = moving ? of("bend/displaced") : 0;
  if (BENDING.some((name) => of(`bend/${name}`)) || displaced)
    light = passes.draw(
      renderer,
      BEND,
      {
        light,
        size,
        middle: new THREE.Vector2(of("bend/x"), of("bend/y")),
        bulge: of("bend/bulge"),
        twirl: THREE.MathUtils.degToRad(of("bend/twirl")),
        reach: of("bend/reach"),
        ripple: of("bend/ripple"),
        shimmer: of("bend/shimmer"),
        wave: of("bend/finest"),
        phase: 2 * Math.PI * of("bend/flow"),
        broken: of("bend/broken"),
        strip: of("bend/strip"),
        torn: of("bend/torn"),
        lie: THREE.MathUtils.degToRad(of("bend/lie")),
        seed: of("bend/seed") * 4099 + of("bend/jump"),
        moving: moving ?? shown,
        displaced,
      },
      passes.target("bent", width, height),
    );
  light = within(passes, renderer, "bend", shown, light, size, of);
  const sharp = light;
  // One after the other, as the core draws them out.
  const [length, zoom, spin] = [of("blur/length"), of("blur/zoom"), of("blur/spin")];
  const angle = THREE.MathUtils.degToRad(of("blur/angle"));
  const middle = new THREE.Vector2(of("blur/x"), 1 - of("blur/y"));
  const draw = (name: string, way: THREE.Vector2, towards: number, around: number) =>
    passes.draw(
      renderer,
      BLUR,
      { light, size, middle, way, zoom: towards, spin: around },
      passes.target(`blur ${name}`, width, height),
    );
  const still = new THREE.Vector2(0, 0);
  if (length > 0)
    light = draw(
      "line",
      new THREE.Vector2((Math.cos(angle) * length * height) / width, Math.sin(angle) * length),
      0,
      0,
    );
  if (zoom > 0) light = draw("zoom", still, Math.log1p(zoom), 0);
  if (spin > 0) light = draw("spin", still, 0, THREE.MathUtils.degToRad(spin));
  light = within(passes, renderer, "blur", sharp, light, size, of);
  const [x, y, turned, zoomed] = [of("weave/x"), of("weave/y"), of("weave/angle"), of("weave/zoom")];
  if (x || y || turned || zoomed)
    light = passes.draw(
      renderer,
      WEAVE,
      {
        light,
        size,
        shift: new THREE.Vector2(x, -y),
        turn: THREE.MathUtils.degToRad(turned),
        larger: 1 + zoomed,
      },
      passes.target("woven", width, height),
    );
  return light;
}
