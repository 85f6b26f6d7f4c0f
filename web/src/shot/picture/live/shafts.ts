import * as THREE from "three";
import type { LightKind, Scene } from "../../document/scene";
import { drawAs, type Drawn } from "./drawAs";
import { Passes } from "./optics/passes";
import { lightsInOrder, type Shades } from "./shadowMaps";
import { MOST } from "./shadowShader";

/** Places on each way that are looked at. */
const STEPS = 24;
const KINDS: Record<LightKind, number> = { panel: 1, disc: 1, spot: 2, point: 3, sun: 4, ambient: 0 };

/**
 * Light that air sends back along each way, shadowed: the core's `transport/air.py`, lights as points with
 * the area they have.
 */
const MARCH = `uniform highp sampler2D depthMap, shadeMap;
uniform mat4 unproject;
uniform mat4 shadeMatrix[ ${MOST} ];
uniform vec4 shadeTile[ ${MOST} ], shadeLamp[ ${MOST} ], shadeTone[ ${MOST} ];
uniform vec4 lampPlace[ ${MOST} ], lampWay[ ${MOST} ], lampLight[ ${MOST} ];
uniform vec2 lampCone[ ${MOST} ];
uniform float density, forward, reach, over, spin;
float far( vec4 lamp, float d ) {
  return lamp.w < 0.0 ? mix( lamp.x, lamp.y, d ) : lamp.x * lamp.y / max( lamp.y - d * ( lamp.y - lamp.x ), 1e-6 );
}
vec3 open( int k, vec3 at ) {
  vec4 lamp = shadeLamp[ k ];
  if ( lamp.w == 0.0 ) return vec3( 1.0 );
  vec4 seen = shadeMatrix[ k ] * vec4( at, 1.0 );
  if ( lamp.w > 0.0 && seen.w <= lamp.x ) return vec3( 1.0 );
  vec2 uv = seen.xy / seen.w * 0.5 + 0.5;
  if ( any( lessThan( uv, vec2( 0.0 ) ) ) || any( greaterThan( uv, vec2( 1.0 ) ) ) ) return vec3( 1.0 );
  float z = lamp.w < 0.0 ? mix( lamp.x, lamp.y, seen.z * 0.5 + 0.5 ) : seen.w;
  float d = texture2D( shadeMap, shadeTile[ k ].xy + clamp( uv, 0.002, 0.998 ) * shadeTile[ k ].z ).r;
  if ( d >= 1.0 || far( lamp, d ) > z ) return vec3( 1.0 );
  vec4 tone = shadeTone[ k ];
  return ( 1.0 - tone.a ) + tone.rgb * tone.a;
}
vec3 brought( int k, vec3 at, vec3 way ) {
  vec4 lamp = lampPlace[ k ];
  vec3 toward = lamp.w == 4.0 ? - lampWay[ k ].xyz : lamp.xyz - at;
  float square = max( dot( toward, toward ), 0.01 );
  toward = normalize( toward );
  vec3 light = lampLight[ k ].rgb;
  if ( lamp.w < 4.0 ) {
    light /= square;
    float faces = - dot( lampWay[ k ].xyz, toward );
    if ( lamp.w < 3.0 ) light *= max( faces, 0.0 );
    if ( lamp.w == 2.0 ) light *= smoothstep( lampCone[ k ].x, max( lampCone[ k ].y, lampCone[ k ].x + 1e-4 ), faces );
    if ( lampLight[ k ].w > 0.0 ) light *= pow( sqrt( square ) / 3.0, lampLight[ k ].w );
  }
  float ahead = 1.0 + forward * forward - 2.0 * forward * dot( toward, way );
  return light * ( 1.0 - forward * forward ) / ( 12.5663706 * pow( max( ahead, 1e-4 ), 1.5 ) ) * open( k, at );
}
void main() {
  float d = texture2D( depthMap, place ).r;
  vec4 end = unproject * vec4( place * 2.0 - 1.0, d * 2.0 - 1.0, 1.0 );
  vec3 at = end.xyz / end.w;
  float length_ = d >= 1.0 ? over : min( length( at ), reach );
  vec3 way = normalize( at );
  float turn = fract( spin + 52.9829189 * fract( dot( gl_FragCoord.xy, vec2( 0.06711056, 0.00583715 ) ) ) );
  vec3 sum = vec3( 0.0 );
  float span = length_ / ${STEPS.toFixed(1)};
  for ( int i = 0; i < ${STEPS}; i ++ ) {
    float t = ( float( i ) + turn ) * span;
    vec3 here = vec3( 0.0 );
    for ( int k = 0; k < ${MOST}; k ++ ) if ( lampPlace[ k ].w > 0.0 ) here += brought( k, way * t, way );
    sum += here * density * exp( - density * t ) * span;
  }
  gl_FragColor = vec4( sum, length_ );
}`;

/** The means of what neighbours as far away saw from other places of their ways, over the picture. */
const ADD = `uniform sampler2D light, shafts;
uniform highp sampler2D depthMap;
uniform mat4 unproject;
uniform vec2 small;
uniform vec3 tint;
uniform float reach, over;
void main() {
  float d = texture2D( depthMap, place ).r;
  vec4 end = unproject * vec4( place * 2.0 - 1.0, d * 2.0 - 1.0, 1.0 );
  float own = d >= 1.0 ? over : min( length( end.xyz / end.w ), reach );
  vec4 sum = vec4( 0.0 );
  for ( int y = -2; y <= 2; y ++ ) for ( int x = -2; x <= 2; x ++ ) {
    vec4 one = texture2D( shafts, place + vec2( float( x ), float( y ) ) / small );
    sum += vec4( one.rgb, 1.0 ) * ( abs( one.a - own ) < 0.04 * own + 1e-3 ? 1.0 : 1e-3 );
  }
  gl_FragColor = vec4( texture2D( light, place ).rgb + tint * sum.rgb / sum.a, 1.0 );
}`;

/** Lamps that light up the air, and the shadows that letters throw into it. */
export class Shafts {
  private readonly passes = new Passes();
  private readonly target = new THREE.WebGLRenderTarget(1, 1, {
    depthTexture: new THREE.DepthTexture(1, 1, THREE.UnsignedIntType),
  });
  private readonly depth = new THREE.MeshBasicMaterial({ colorWrite: false, side: THREE.DoubleSide });

  dispose(): void {
    this.passes.dispose();
    this.target.dispose();
    this.depth.dispose();
  }

  /** A picture with what lamps bring to the air before it; itself where the air is clear. */
  over(
    renderer: THREE.WebGLRenderer,
    camera: THREE.PerspectiveCamera,
    scene: Scene,
    frame: number,
    things: Map<string, Drawn>,
    shades: Shades,
    shown: THREE.WebGLRenderTarget,
    spin: number,
  ): THREE.Texture {
    if (!scene.has("air")) return shown.texture;
    const [density, over, , , , reach, forward, r, g, b] = scene.at("air", frame);
    if (!density) return shown.texture;
    const small = new THREE.Vector2(Math.ceil(shown.width / 2), Math.ceil(shown.height / 2));
    this.seeDepth(renderer, camera, things, new THREE.Vector2(shown.width, shown.height));
    const depthMap = this.target.depthTexture!;
    const unproject = camera.projectionMatrixInverse;
    const shafts = this.passes.draw(
      renderer,
      MARCH,
      {
        depthMap,
        unproject,
        ...shades.maps(),
        ...lampsAt(scene, frame, camera),
        density,
        forward: forward!,
        reach: reach!,
        over: over!,
        spin,
      },
      this.passes.target("shafts", small.x, small.y),
    );
    return this.passes.draw(
      renderer,
      ADD,
      {
        light: shown.texture,
        shafts,
        depthMap,
        unproject,
        small,
        tint: new THREE.Vector3(r, g, b),
        reach: reach!,
        over: over!,
      },
      this.passes.target("in the air", shown.width, shown.height),
    );
  }

  private seeDepth(
    renderer: THREE.WebGLRenderer,
    camera: THREE.Camera,
    things: Map<string, Drawn>,
    size: THREE.Vector2,
  ): void {
    if (this.target.width !== size.x || this.target.height !== size.y) this.target.setSize(size.x, size.y);
    renderer.setRenderTarget(this.target);
    renderer.clear();
    drawAs(renderer, camera, things, () => this.depth);
    renderer.setRenderTarget(null);
  }
}

/** Lights as the march takes them, in the order in which shadows know them, seen from the camera. */
function lampsAt(scene: Scene, frame: number, camera: THREE.Camera) {
  const four = () => Array.from({ length: MOST }, () => new THREE.Vector4());
  const [lampPlace, lampWay, lampLight] = [four(), four(), four()];
  const lampCone = Array.from({ length: MOST }, () => new THREE.Vector2());
  const view = camera.matrixWorldInverse;
  lightsInOrder(scene)
    .slice(0, MOST)
    .forEach((name, k) => {
      const at = `light/${name}`;
      const kind = scene.facts.lights[name]!;
      const there = scene.at(`${at}/there`, frame)[0]!;
      const position = new THREE.Vector3(...scene.triple(`${at}/position`, frame));
      const aim = new THREE.Vector3(...scene.triple(`${at}/aim`, frame));
      const way = aim.sub(position).normalize().transformDirection(view);
      const [width, height] = scene.pair(`${at}/size`, frame);
      const round = (Math.PI * width * width) / 4;
      const area = {
        panel: width * height,
        disc: (Math.PI * width * height) / 4,
        spot: round,
        point: round,
        sun: Math.PI * Math.sin((width * Math.PI) / 360) ** 2,
        ambient: 0,
      }[kind];
      const [r, g, b] = scene.triple(`${at}/radiance`, frame);
      position.applyMatrix4(view);
      lampPlace[k]!.set(position.x, position.y, position.z, there ? KINDS[kind] : 0);
      lampWay[k]!.set(way.x, way.y, way.z, 0);
      lampLight[k]!.set(r * area, g * area, b * area, scene.facts.lamps[name]!.falloff);
      if (kind === "spot") lampCone[k]!.set(...scene.pair(`${at}/cone`, frame));
    });
  return { lampPlace, lampWay, lampLight, lampCone };
}
