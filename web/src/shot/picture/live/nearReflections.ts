import * as THREE from "three";
import { drawAs, type Drawn } from "./drawAs";

/**
 * What a picture that rests knows of itself, for the next one: its light, how far away the nearest bodies
 * begin and end, and where in it a place lies (from view space).
 */
export const nearUniforms = () => ({
  nearLight: { value: null as THREE.Texture | null },
  nearFront: { value: null as THREE.Texture | null },
  nearBack: { value: null as THREE.Texture | null },
  nearMatrix: { value: new THREE.Matrix4() },
  nearInverse: { value: new THREE.Matrix4() },
  /** The floor, where there is one: it goes on beyond the picture. */
  nearFloor: { value: new THREE.Vector4() },
  nearRange: { value: new THREE.Vector2(0.1, 100) },
  nearSpin: { value: new THREE.Vector2() },
  /** 0: nothing is mirrored. */
  nearOn: { value: 0 },
});
export type NearUniforms = ReturnType<typeof nearUniforms>;

/** Places along a way that are looked at: of what is mirrored, and of what hides the surroundings. */
const MIRRORED = 28;
const HIDDEN = 10;

/**
 * Ways that leave a surface are followed through the picture (McGuire and Mara, Efficient GPU screen-space
 * ray tracing, 2014), against the fronts and backs of the nearest bodies; one way a picture, drawn by chance:
 * of microfacets for what is mirrored (Trowbridge-Reitz), by cosine for what is lit.
 */
export const NEAR_PARS = `
uniform sampler2D nearLight;
uniform highp sampler2D nearFront, nearBack;
uniform mat4 nearMatrix, nearInverse;
uniform vec4 nearFloor;
uniform vec2 nearRange, nearSpin;
uniform float nearOn;

float nearFar( float d ) {
  return nearRange.x * nearRange.y / max( nearRange.y - d * ( nearRange.y - nearRange.x ), 1e-6 );
}
// Jarzynski and Olano, Hash functions for GPU rendering, JCGT 9 (3), 2020: pcg3d, turned by time.
vec2 nearChance( uint other ) {
  uvec3 v = uvec3( uvec2( gl_FragCoord.xy ), other ) * 1664525u + 1013904223u;
  v.x += v.y * v.z; v.y += v.z * v.x; v.z += v.x * v.y;
  v ^= v >> 16u;
  v.x += v.y * v.z; v.y += v.z * v.x;
  return fract( nearSpin + vec2( v.xy >> 8u ) / 16777216.0 );
}
mat3 nearFrame( vec3 up ) {
  vec3 side = normalize( cross( abs( up.y ) < 0.9 ? vec3( 0.0, 1.0, 0.0 ) : vec3( 1.0, 0.0, 0.0 ), up ) );
  return mat3( side, cross( up, side ), up );
}
// Where a way meets the floor; out of the picture it looks as it does at the picture's edge.
vec4 nearBelow( vec3 from, vec3 way ) {
  float falls = dot( nearFloor.xyz, way );
  if ( falls > -1e-3 ) return vec4( 0.0 );
  vec4 at = nearMatrix * vec4( from - way * ( dot( nearFloor.xyz, from ) + nearFloor.w ) / falls, 1.0 );
  vec2 place = at.w > nearRange.x ? at.xy / at.w * 0.5 + 0.5 : vec2( 0.5, 0.0 );
  place = clamp( place, vec2( 0.004 ), vec2( 0.996 ) );
  float d = textureLod( nearFront, place, 0.0 ).r;
  vec4 seen = nearInverse * vec4( vec3( place, d ) * 2.0 - 1.0, 1.0 );
  seen.xyz /= seen.w;
  if ( abs( dot( nearFloor.xyz, seen.xyz ) + nearFloor.w ) > 0.004 * length( seen.xyz ) ) return vec4( 0.0 );
  return vec4( min( textureLod( nearLight, place, 0.0 ).rgb, vec3( 100.0 ) ), 1.0 );
}
// What lies below a front is not seen: it is its light, less as it has less of the surroundings.
float nearDeep( float deep, float away ) {
  return mix( 0.3, 1.0, exp( - deep / ( 0.004 * away ) ) );
}
vec4 nearMet( vec3 from, vec3 way, float reach, int steps, float begin ) {
  vec4 here = nearMatrix * vec4( from, 1.0 );
  vec4 along = nearMatrix * vec4( way, 0.0 );
  vec2 size = vec2( textureSize( nearFront, 0 ) );
  vec2 left = here.xy / here.w * 0.5;
  for ( int i = 0; i < steps; i ++ ) {
    float share = ( float( i ) + begin ) / float( steps );
    vec4 at = here + along * ( reach * share * share );
    vec2 place = at.xy / at.w * 0.5 + 0.5;
    if ( at.w <= nearRange.x || any( lessThan( place, vec2( 0.0 ) ) ) || any( greaterThan( place, vec2( 1.0 ) ) ) ) break;
    // Within its own pixels a surface would meet itself.
    if ( distance( place * size, ( left + 0.5 ) * size ) < 1.5 ) continue;
    float front = nearFar( textureLod( nearFront, place, 0.0 ).r );
    if ( at.w > front + 0.0005 * at.w && at.w < nearFar( textureLod( nearBack, place, 0.0 ).r ) )
      return vec4( min( textureLod( nearLight, place, 0.0 ).rgb, vec3( 100.0 ) ) * nearDeep( at.w - front, at.w ), 1.0 );
  }
  return nearBelow( from, way );
}
vec4 nearMirrored( vec3 facing, float rough ) {
  vec2 chance = nearChance( 0u );
  float alpha = rough * rough;
  float steep = alpha * alpha * chance.x / ( 1.0 - chance.x );
  float up = inversesqrt( 1.0 + steep );
  float flat_ = sqrt( max( 0.0, 1.0 - up * up ) );
  vec3 half_ = nearFrame( facing ) * vec3( flat_ * cos( 6.2831853 * chance.y ), flat_ * sin( 6.2831853 * chance.y ), up );
  vec3 way = reflect( - normalize( vViewPosition ), half_ );
  if ( dot( way, facing ) <= 0.0 ) return vec4( 0.0 );
  float away = length( vViewPosition );
  return nearMet( - vViewPosition + facing * ( 0.0008 * away ), way, 0.8 * away, ${MIRRORED}, nearChance( 1u ).x );
}
vec4 nearLit( vec3 facing ) {
  vec2 chance = nearChance( 2u );
  float flat_ = sqrt( chance.x );
  vec3 way = nearFrame( facing ) * vec3( flat_ * cos( 6.2831853 * chance.y ), flat_ * sin( 6.2831853 * chance.y ), sqrt( 1.0 - chance.x ) );
  float away = length( vViewPosition );
  return nearMet( - vViewPosition + facing * ( 0.0008 * away ), way, 0.5 * away, ${HIDDEN}, nearChance( 3u ).x );
}`;

/** What is near hides the surroundings from what is lit by them, and lights it in their place. */
export const NEAR_LIT = `
#if defined( RE_IndirectDiffuse ) && defined( USE_ENVMAP )
if ( nearOn > 0.5 ) {
  vec4 nearby = nearLit( geometryNormal );
  iblIrradiance = mix( iblIrradiance, PI * nearby.rgb, nearby.a );
}
#endif`;

/** What is near is mirrored in the place of the surroundings and of lamps that lie behind it. */
export const NEAR_MIRRORED = `
#if defined( RE_IndirectSpecular )
if ( nearOn > 0.5 ) {
  #ifdef USE_CLEARCOAT
  float nearRough = material.clearcoat > 0.5 ? material.clearcoatRoughness : material.roughness;
  #else
  float nearRough = material.roughness;
  #endif
  if ( nearRough < 0.7 ) {
    vec4 nearby = nearMirrored( geometryNormal, nearRough );
    radiance = mix( radiance, nearby.rgb, nearby.a );
    // Shadows tell of rough surfaces what of a lamp they see, in all directions.
    float nearHides = nearby.a * ( 1.0 - smoothstep( 0.1, 0.4, nearRough ) );
    reflectedLight.directSpecular *= 1.0 - nearHides;
    #ifdef USE_CLEARCOAT
    clearcoatRadiance = mix( clearcoatRadiance, nearby.rgb, nearby.a );
    clearcoatSpecularDirect *= 1.0 - nearHides;
    #endif
  }
}
#endif`;

const depthTarget = () =>
  new THREE.WebGLRenderTarget(1, 1, { depthTexture: new THREE.DepthTexture(1, 1, THREE.UnsignedIntType) });

/** Where the nearest bodies of a picture begin and end. */
export class NearBodies {
  private readonly front = depthTarget();
  private readonly back = depthTarget();
  private readonly sides = {
    front: new THREE.MeshBasicMaterial({ colorWrite: false }),
    back: new THREE.MeshBasicMaterial({ colorWrite: false, side: THREE.BackSide }),
  };
  /** From the world into the picture. */
  private readonly into = new THREE.Matrix4();
  private floor: THREE.Plane | null = null;

  /** See them from where this camera is. */
  see(
    renderer: THREE.WebGLRenderer,
    camera: THREE.PerspectiveCamera,
    things: Map<string, Drawn & { catches: boolean; reveals: boolean }>,
    floor: string | undefined,
    size: THREE.Vector2,
    uniforms: NearUniforms,
  ): void {
    const bodies = new Map([...things].filter(([, { catches, reveals }]) => !catches && !reveals));
    for (const side of ["front", "back"] as const) {
      const target = this[side];
      if (target.width !== size.x || target.height !== size.y) target.setSize(size.x, size.y);
      renderer.setRenderTarget(target);
      renderer.clear();
      drawAs(renderer, camera, bodies, () => this.sides[side]);
    }
    renderer.setRenderTarget(null);
    uniforms.nearFront.value = this.front.depthTexture;
    uniforms.nearBack.value = this.back.depthTexture;
    uniforms.nearRange.value.set(camera.near, camera.far);
    this.into.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    const { matrix } = (floor !== undefined && bodies.get(floor)?.group) || {};
    this.floor = matrix
      ? new THREE.Plane().setFromNormalAndCoplanarPoint(
          new THREE.Vector3(0, 1, 0).transformDirection(matrix),
          new THREE.Vector3().setFromMatrixPosition(matrix),
        )
      : null;
  }

  /** Have what is drawn from this camera next mirror that picture, on the `time`th ways drawn by chance. */
  mirroredIn(light: THREE.Texture, camera: THREE.Camera, time: number, uniforms: NearUniforms): void {
    uniforms.nearLight.value = light;
    uniforms.nearMatrix.value.multiplyMatrices(this.into, camera.matrixWorld);
    uniforms.nearInverse.value.copy(uniforms.nearMatrix.value).invert();
    const plane = this.floor?.clone().applyMatrix4(camera.matrixWorldInverse);
    uniforms.nearFloor.value.set(
      plane?.normal.x ?? 0,
      plane?.normal.y ?? 0,
      plane?.normal.z ?? 0,
      plane?.constant ?? 0,
    );
    // Roberts, The unreasonable effectiveness of quasirandom sequences, 2018: R2.
    uniforms.nearSpin.value.set((0.7548776662 * time) % 1, (0.5698402909 * time) % 1);
    uniforms.nearOn.value = 1;
  }

  dispose(): void {
    this.front.dispose();
    this.back.dispose();
    this.sides.front.dispose();
    this.sides.back.dispose();
  }
}
