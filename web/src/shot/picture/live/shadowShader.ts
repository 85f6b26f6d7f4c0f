import * as THREE from "three";

/** Lights that can throw shadows at once; further ones light without. */
export const MOST = 8;
/** Pixels on a side of the picture that holds what all lights see. */
export const SIDE = 2048;

/**
 * Shadows whose edges widen with the distance from what casts them (percentage-closer soft shadows:
 * Fernando, 2005).
 * One picture holds a tile for each light with the distances of what it meets first.
 */
export const SHADE = `
uniform highp sampler2D shadeMap;
uniform mat4 shadeMatrix[ ${MOST} ];
uniform mat4 shadeInverse[ ${MOST} ];
uniform vec4 shadeTile[ ${MOST} ];
uniform vec4 shadeLamp[ ${MOST} ];
uniform vec4 shadeTone[ ${MOST} ];
uniform vec4 shadePlace[ ${MOST} ];
uniform float shadeReach[ ${MOST} ];
uniform float shadeTakes;
// Metres from what throws it at which a shadow is gone; 0: nowhere.
uniform float shadeFade;
// How far shadows wander and over how long waves, in metres; 0: nowhere.
uniform vec2 shadeRipple;
uniform int shadeTaps;
uniform float shadeSpin;

float shadeFar( int k, float d ) {
  vec4 lamp = shadeLamp[ k ];
  return lamp.w < 0.0 ? mix( lamp.x, lamp.y, d ) : lamp.x * lamp.y / max( lamp.y - d * ( lamp.y - lamp.x ), 1e-6 );
}

float shadeMet( int k, vec2 uv ) {
  float d = texture2D( shadeMap, shadeTile[ k ].xy + clamp( uv, 0.002, 0.998 ) * shadeTile[ k ].z ).r;
  return d < 1.0 ? shadeFar( k, d ) : 1e9;
}

// How far the surface itself is there: over its plane, depth grows evenly with the place.
float shadeOwn( int k, vec2 uv, vec4 plane, float z ) {
  vec2 at = uv * 2.0 - 1.0;
  float depth = - ( plane.x * at.x + plane.y * at.y + plane.w ) / plane.z;
  return clamp( shadeFar( k, depth * 0.5 + 0.5 ), z * 0.5, z * 2.0 );
}

vec2 shadeTap( int i, float turn ) {
  float angle = float( i ) * 2.39996323 + turn;
  return sqrt( ( float( i ) + 0.5 ) / float( shadeTaps ) ) * vec2( cos( angle ), sin( angle ) );
}

SHADE_RIPPLED
vec3 shade( int k, vec3 facing ) {
  if ( k >= ${MOST} ) return vec3( 1.0 );
  vec3 at = shadeSeen();
  float power = shadePlace[ k ].w;
  float falls = power > 0.0 ? pow( distance( at, shadePlace[ k ].xyz ) / 3.0, power ) : 1.0;
  vec3 open = vec3( shadeReach[ k ] * falls );
  vec4 lamp = shadeLamp[ k ];
  if ( lamp.w == 0.0 || shadeTakes < 0.5 || shadeTaps == 0 || shadeReach[ k ] == 0.0 ) return open;
  vec4 seen = shadeMatrix[ k ] * vec4( at, 1.0 );
  float far = lamp.w < 0.0 ? 1.0 : max( seen.w, 1e-4 );
  // As wide as a texel, so that surfaces do not shade themselves.
  at += facing * ( 2.0 * shadeTile[ k ].w * far );
  seen = shadeMatrix[ k ] * vec4( at, 1.0 );
  if ( lamp.w > 0.0 && seen.w <= lamp.x ) return open;
  vec2 uv = seen.xy / seen.w * 0.5 + 0.5;
  if ( any( lessThan( uv, vec2( 0.0 ) ) ) || any( greaterThan( uv, vec2( 1.0 ) ) ) ) return open;
  float z = lamp.w < 0.0 ? mix( lamp.x, lamp.y, seen.z * 0.5 + 0.5 ) : seen.w;
  float turn = 6.2831853 * fract( shadeSpin + 52.9829189 * fract( dot( gl_FragCoord.xy, vec2( 0.06711056, 0.00583715 ) ) ) );
  float near = max( lamp.x, 1e-3 );
  float search = min( lamp.w < 0.0 ? lamp.z * ( z - near ) : lamp.z * ( z - near ) / ( z * near ), 0.2 );
  vec4 plane = vec4( facing, - dot( facing, at ) ) * shadeInverse[ k ];
  if ( abs( plane.z ) < 1e-6 ) plane.z = 1e-6;
  float sum = 0.0;
  float count = 0.0;
  for ( int i = 0; i < shadeTaps; i ++ ) {
    vec2 tap = uv + shadeTap( i, turn ) * search;
    float met = shadeMet( k, tap );
    if ( met < shadeOwn( k, tap, plane, z ) ) {
      sum += met;
      count += 1.0;
    }
  }
  if ( count == 0.0 ) return open;
  float blocks = min( sum / count, z );
  float edge = lamp.w < 0.0 ? lamp.z * ( z - blocks ) : lamp.z * ( z - blocks ) / ( z * blocks );
  edge = clamp( edge, 0.7 / ( ${SIDE}.0 * shadeTile[ k ].z ), 0.2 );
  float lit = 0.0;
  for ( int i = 0; i < shadeTaps; i ++ ) {
    vec2 tap = uv + shadeTap( i, turn ) * edge;
    lit += shadeMet( k, tap ) < shadeOwn( k, tap, plane, z ) ? 0.0 : 1.0;
  }
  lit /= float( shadeTaps );
  if ( shadeFade > 0.0 ) lit = 1.0 - ( 1.0 - lit ) * clamp( 1.0 - ( z - blocks ) / shadeFade, 0.0, 1.0 );
  vec4 tone = shadeTone[ k ];
  return open * ( lit + ( 1.0 - lit ) * ( ( 1.0 - tone.a ) + tone.rgb * tone.a ) );
}
`;

/** Of whose place on the ground the shadow is seen: waves are rows as the core has them. */
export function rippledShade(waves: number[][]): string {
  const one = (n: number) => n.toFixed(6);
  const sum = waves
    .map(
      ([x, z, begins, leadX, leadZ]) =>
        `shift += vec2( ${one(leadX!)}, ${one(leadZ!)} ) * sin( 6.2831853 * ( dot( place.xz, vec2( ${one(x!)}, ${one(z!)} ) ) / shadeRipple.y + ${one(begins!)} ) );`,
    )
    .join("\n");
  const moved = `
  vec3 place = ( inverse( viewMatrix ) * vec4( - vViewPosition, 1.0 ) ).xyz;
  vec2 shift = vec2( 0.0 );
  ${sum}
  return - vViewPosition + mat3( viewMatrix ) * vec3( shift.x, 0.0, shift.y ) * shadeRipple.x;`;
  return `vec3 shadeSeen() {${waves.length ? moved : " return - vViewPosition; "}}`;
}

const calls = (before: string) => `shade( ${before}UNROLLED_LOOP_INDEX, nonPerturbedNormal )`;

/**
 * Light in three's shader, each light taken through what shades it; panels come first, then spots, points
 * and suns.
 */
export function shadedLights(): string {
  const put = (text: string, after: string, line: string) => {
    if (!text.includes(after)) throw new Error(`the shader of this version has no ${after}`);
    return text.replace(after, `${after}\n${line}`);
  };
  let text = THREE.ShaderChunk.lights_fragment_begin;
  text = put(text, "rectAreaLight = rectAreaLights[ i ];", `rectAreaLight.color *= ${calls("")};`);
  text = put(
    text,
    "getSpotLightInfo( spotLight, geometryPosition, directLight );",
    `directLight.color *= ${calls("NUM_RECT_AREA_LIGHTS + ")};`,
  );
  text = put(
    text,
    "getPointLightInfo( pointLight, geometryPosition, directLight );",
    `directLight.color *= ${calls("NUM_RECT_AREA_LIGHTS + NUM_SPOT_LIGHTS + ")};`,
  );
  return put(
    text,
    "getDirectionalLightInfo( directionalLight, directLight );",
    `directLight.color *= ${calls("NUM_RECT_AREA_LIGHTS + NUM_SPOT_LIGHTS + NUM_POINT_LIGHTS + ")};`,
  );
}

/** The same, adding up what lights bring to a catcher with and without their shadows. */
export function caughtLights(): string {
  return (
    "float caughtAll = 0.0, caughtLeft = 0.0; vec3 caughtShade; vec3 caughtLight;\n" +
    shadedLights().replace(
      /(rectAreaLight|directLight)\.color \*= (shade\([^;]*\));/g,
      (_, light: string, call: string) => {
        const falls =
          light === "directLight" ? "saturate( dot( geometryNormal, directLight.direction ) )" : "1.0";
        return `caughtShade = ${call}; caughtLight = ${light}.color * ${falls}; caughtAll += dot( caughtLight, vec3( 0.2126, 0.7152, 0.0722 ) ); caughtLeft += dot( caughtLight * caughtShade, vec3( 0.2126, 0.7152, 0.0722 ) );`;
      },
    )
  );
}

/** What a catcher shows: what is behind it, in the shadow that falls there. */
export const CAUGHT = `
#if defined( USE_ENVMAP ) && defined( RE_IndirectDiffuse )
float caughtAround = dot( iblIrradiance, vec3( 0.2126, 0.7152, 0.0722 ) );
#else
float caughtAround = 0.0;
#endif
float caughtLacks = 1.0 - ( caughtLeft + caughtAround ) / max( caughtAll + caughtAround, 1e-5 );
gl_FragColor = vec4( max( vec3( 1.0 ) - clamp( caughtLacks, 0.0, 1.0 ) * caughtTone, vec3( 0.0 ) ), 1.0 );
`;

/** Pictures that fill the frame: where the camera sees a place is where it lies in the picture. */
export const ON_PLATE = `
uniform vec4 plateTurn;
uniform vec2 plateShift;
uniform vec2 plateSize;
vec2 plateAt() {
  vec2 at = gl_FragCoord.xy / plateSize - 0.5;
  return 0.5 + plateShift + vec2( dot( plateTurn.xy, at ), dot( plateTurn.zw, at ) );
}
#define vMapUv plateAt()
#define vEmissiveMapUv plateAt()
#define vRoughnessMapUv plateAt()
#define vAlphaMapUv plateAt()
`;
