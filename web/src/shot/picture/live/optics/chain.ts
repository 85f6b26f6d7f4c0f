import * as THREE from "three";
import { AREA, areaUniforms } from "./area";
import { flare } from "./flare";
import { LibraryPicture } from "./libraryPicture";
import { Passes } from "./passes";
import { ARM, glints, rays, streaks } from "./lines";
import { BRIGHTER, spread } from "./spread";
import type { OpticsValues } from "./values";
import { Tones } from "./tones";
import { warped } from "./warp";

/** Pixels that come from elsewhere: one radial term, and red and blue imaged at other sizes. */
const LENS = `uniform sampler2D light;
uniform float bend, fringe;
uniform vec2 size;
vec2 from( float bigger ) {
  vec2 away = ( place - 0.5 ) * size / ( 0.5 * length( size ) ) / bigger;
  float share = ( 1.0 + bend * dot( away, away ) ) / max( 1.0, 1.0 + bend );
  return 0.5 + away * share * 0.5 * length( size ) / size;
}
void main() {
  gl_FragColor = vec4(
    texture2D( light, from( 1.0 + fringe / 2.0 ) ).r,
    texture2D( light, from( 1.0 ) ).g,
    texture2D( light, from( 1.0 - fringe / 2.0 ) ).b, 1.0 );
}`;

const COMPOSE = `uniform sampler2D light, softened, around, lines, stars, drawn, flared, veil, rim;
uniform float diffusion, bloom, threshold, knee, streak, glint, ray, flaring, veiled, exposure, halation, rimThreshold;
uniform float vibrance, pivot, darkTint, lightTint;
uniform vec3 darkColour, lightColour;
uniform float dark, begins, roundness, contrast, warmth, saturation, bars, grain, grainSize, grainColour, seed;
uniform vec3 bloomTint, streakTint, glintTint, rayTint, rimTint, slope, offset, power;
uniform vec2 size;
uniform vec4 softAt, softHow, gradeAt, gradeHow;
uniform vec3 softTone, gradeTone;
uniform sampler2D softMatte, gradeMatte;
uniform vec4 softChannel, gradeChannel;
${BRIGHTER}
${AREA}
float chance( vec2 at, float salt ) {
  vec3 p = fract( vec3( at.xyx ) * 0.1031 + salt * 0.017 );
  p += dot( p, p.yzx + 33.33 );
  return fract( ( p.x + p.y ) * p.z );
}
float noise( vec2 at, float salt ) {
  float sum = 0.0;
  for ( int k = 0; k < 4; k ++ ) sum += chance( floor( at ), salt + float( k ) * 7.31 );
  return ( sum - 2.0 ) * 1.732;
}
void main() {
  vec3 lit = max( texture2D( light, place ).rgb, 0.0 );
  float soft = areaShare( place, size, softAt, softHow ) * toneShare( lit, softTone )
    * dot( texture2D( softMatte, place ), softChannel );
  lit += diffusion * soft * ( texture2D( softened, place ).rgb - lit );
  lit += bloom * ( texture2D( around, place ).rgb * bloomTint - brighter( lit, threshold, knee ) );
  lit += streak * texture2D( lines, place ).rgb * streakTint;
  lit += glint * texture2D( stars, place ).rgb * glintTint;
  lit += ray * texture2D( drawn, place ).rgb * rayTint;
  lit += flaring * texture2D( flared, place ).rgb;
  lit += veiled * ( texture2D( veil, place ).rgb - lit );
  vec2 middle = ( place - 0.5 ) * size;
  float diagonal = length( size );
  float own = max( abs( middle.x ) / size.x, abs( middle.y ) / size.y ) * 2.0;
  float away = mix( own, length( middle ) * 2.0 / diagonal, roundness );
  float u = clamp( ( away - begins ) / ( 1.5 - begins ), 0.0, 1.0 );
  lit *= 1.0 - dark * u * u * ( 3.0 - 2.0 * u );
  lit *= exposure;
  lit += halation * max( texture2D( rim, place ).rgb - brighter( lit, rimThreshold, 0.5 ), 0.0 ) * rimTint;
  if ( grain > 0.0 ) {
    vec2 at = gl_FragCoord.xy / max( 1.0, grainSize * size.y / 1080.0 );
    float shared_ = noise( at, seed );
    vec3 each = vec3( noise( at, seed + 91.0 ), noise( at, seed + 173.0 ), noise( at, seed + 257.0 ) );
    vec3 mixed = mix( vec3( shared_ ), each, grainColour ) / sqrt( pow( 1.0 - grainColour, 2.0 ) + grainColour * grainColour );
    vec3 factor = exp( 0.5 * grain * mixed - 0.125 * grain * grain );
    lit *= 1.0 + ( factor - 1.0 ) * lit / ( lit + 0.02 );
  }
  vec3 ungraded = lit;
  lit *= vec3( exp2( 0.7 * warmth ), 1.0, exp2( -0.7 * warmth ) );
  if ( contrast != 1.0 ) lit = pivot * pow( max( lit, 0.0 ) / pivot, vec3( contrast ) );
  lit = pow( max( lit * slope + offset, 0.0 ), power );
  float grey = dot( lit, vec3( 0.2126, 0.7152, 0.0722 ) );
  lit = max( grey + saturation * ( lit - grey ), 0.0 );
  float high = max( lit.r, max( lit.g, lit.b ) ), low = min( lit.r, min( lit.g, lit.b ) );
  grey = dot( lit, vec3( 0.2126, 0.7152, 0.0722 ) );
  lit = max( grey + ( 1.0 + vibrance * ( 1.0 - ( high - low ) / max( high, 1e-6 ) ) ) * ( lit - grey ), 0.0 );
  grey = dot( lit, vec3( 0.2126, 0.7152, 0.0722 ) );
  float bright = grey / ( grey + 0.18 );
  lit += darkTint * ( 1.0 - bright ) * ( grey * darkColour - lit );
  lit = max( lit + lightTint * bright * ( grey * lightColour - lit ), 0.0 );
  lit = mix( ungraded, lit, areaShare( place, size, gradeAt, gradeHow ) * toneShare( ungraded, gradeTone )
    * dot( texture2D( gradeMatte, place ), gradeChannel ) );
  if ( bars > 0.0 ) {
    vec2 open = vec2( min( size.x, size.y * bars ), min( size.y, size.x / bars ) );
    vec2 edge = clamp( open / 2.0 - abs( middle ) + 0.5, 0.0, 1.0 );
    lit *= edge.x * edge.y;
  }
  gl_FragColor = vec4( lit, 1.0 );
}`;

const three = (of: OpticsValues, name: string, parts: string[]) =>
  new THREE.Vector3(...parts.map((part) => of(`${name}${part}`)));
const tint = (of: OpticsValues, effect: string) => three(of, `${effect}/tint/`, ["r", "g", "b"]);

/** A full colour of a hue in degrees, of luminance 1. */
function hueOf(degrees: number): THREE.Vector3 {
  const parts = [5, 3, 1].map((begin) => {
    const sixth = (((begin + degrees / 60) % 6) + 6) % 6;
    return 1 - Math.max(0, Math.min(1, Math.min(sixth, 4 - sixth)));
  });
  const luma = 0.2126 * parts[0]! + 0.7152 * parts[1]! + 0.0722 * parts[2]!;
  return new THREE.Vector3(...parts.map((part) => part / luma));
}

/**
 * The steps of the core between tracing and the view transform, in the same order and from the same numbers.
 * Simpler
 * here: what spreads is taken from the picture before diffusion, and grain has another pattern.
 */
export class OpticsChain {
  private readonly passes = new Passes();
  readonly tones: Tones;
  readonly moving: LibraryPicture;

  constructor(shot: string, redraw: () => void) {
    this.tones = new Tones(shot, redraw);
    this.moving = new LibraryPicture(redraw);
  }

  /** The picture as the lens images it. */
  private seenThrough(
    renderer: THREE.WebGLRenderer,
    light: THREE.Texture,
    size: THREE.Vector2,
    of: OpticsValues,
  ): THREE.Texture {
    const [bend, fringe] = [of("distortion/amount"), of("aberration/amount")];
    if (!bend && !fringe) return light;
    const target = this.passes.target("lens", size.x, size.y);
    return this.passes.draw(renderer, LENS, { light, bend, fringe, size }, target);
  }

  /** The picture after all steps, exposure with them. */
  apply(
    renderer: THREE.WebGLRenderer,
    shown: THREE.Texture,
    width: number,
    height: number,
    exposure: number,
    frame: number,
    of: OpticsValues,
  ): THREE.Texture {
    const { passes } = this;
    const size = new THREE.Vector2(width, height);
    const light = this.seenThrough(
      renderer,
      warped(passes, renderer, shown, width, height, of, this.moving.texture),
      size,
      of,
    );
    const spreading = (
      name: string,
      on: number,
      radius: number,
      more: Partial<Parameters<typeof spread>[6]>,
    ) =>
      on > 0 && radius > 0
        ? spread(passes, renderer, name, light, width, height, {
            threshold: 0,
            knee: 0.5,
            exposure: 1,
            radius,
            falloff: 0,
            ...more,
          })
        : light;
    const [streak, ray] = [of("streak/amount"), of("rays/amount")];
    const has = (amount: number, reach: number) => (amount > 0 && reach > 0 ? amount : 0);
    const areas = { ...areaUniforms(of, "diffusion", "soft"), ...areaUniforms(of, "grade", "grade") };
    const glint = has(of("glints/amount"), of("glints/length"));
    const composed = passes.draw(
      renderer,
      COMPOSE,
      {
        light,
        size,
        exposure,
        softened: spreading("diffusion", of("diffusion/amount"), of("diffusion/radius"), { falloff: -1 }),
        diffusion: has(of("diffusion/amount"), of("diffusion/radius")),
        around: spreading("bloom", of("bloom/amount"), of("bloom/radius"), {
          threshold: of("bloom/threshold"),
          knee: of("bloom/knee"),
          falloff: of("bloom/falloff"),
        }),
        bloom: has(of("bloom/amount"), of("bloom/radius")),
        threshold: of("bloom/threshold"),
        knee: of("bloom/knee"),
        bloomTint: tint(of, "bloom"),
        lines:
          streak > 0 && of("streak/length") > 0
            ? streaks(passes, renderer, light, width, height, {
                angle: of("streak/angle"),
                length: of("streak/length"),
                threshold: of("streak/threshold"),
                knee: of("streak/knee"),
              })
            : light,
        streak: has(streak, of("streak/length")),
        streakTint: tint(of, "streak"),
        stars: glint > 0 ? glints(passes, renderer, light, width, height, of) : light,
        glint: glint * ARM,
        glintTint: tint(of, "glints"),
        drawn:
          ray > 0 && of("rays/length") > 0
            ? rays(passes, renderer, light, width, height, {
                x: of("rays/x"),
                y: of("rays/y"),
                length: of("rays/length"),
                threshold: of("rays/threshold"),
              })
            : light,
        ray: has(ray, of("rays/length")),
        rayTint: tint(of, "rays"),
        flared: of("flare/amount") > 0 ? flare(passes, renderer, width, height, of) : light,
        flaring: of("flare/amount"),
        veil: spreading("veil", of("veil/amount"), 0.6, { falloff: -2 }),
        veiled: of("veil/amount"),
        dark: of("vignette/amount"),
        begins: Math.min(1.49, of("vignette/reach")),
        roundness: of("vignette/roundness"),
        rim: spreading("halation", of("halation/amount"), of("halation/radius"), {
          threshold: of("halation/threshold"),
          exposure,
          falloff: -1,
        }),
        halation: has(of("halation/amount"), of("halation/radius")),
        rimThreshold: of("halation/threshold"),
        rimTint: tint(of, "halation"),
        grain: of("grain/amount"),
        grainSize: of("grain/size"),
        grainColour: of("grain/colour"),
        seed: (of("grain/seed") * 131 + frame * 17) % 997,
        contrast: of("grade/contrast"),
        warmth: of("grade/warmth"),
        slope: three(of, "grade/slope", ["_r", "_g", "_b"]),
        offset: three(of, "grade/offset", ["_r", "_g", "_b"]),
        power: three(of, "grade/power", ["_r", "_g", "_b"]),
        saturation: of("grade/saturation"),
        vibrance: of("grade/vibrance"),
        pivot: 0.18 * 2 ** of("grade/pivot"),
        darkTint: of("grade/dark_tint"),
        lightTint: of("grade/light_tint"),
        darkColour: hueOf(of("grade/dark_hue")),
        lightColour: hueOf(of("grade/light_hue")),
        bars: of("letterbox/aspect"),
        ...areas,
      },
      passes.target("composed", width, height),
    );
    return this.tones.apply(passes, renderer, composed, width, height, of);
  }

  dispose(): void {
    this.passes.dispose();
    this.tones.dispose();
    this.moving.dispose();
  }
}
