import * as THREE from "three";
import { unpack } from "../../../../api/block";
import { gotBytes } from "../../../../api/client";
import { latticeTexture } from "../lattice";
import { AREA, areaUniforms } from "./area";
import type { Passes } from "./passes";
import type { OpticsValues } from "./values";

/** Curves and table of the grade: lattices over codes of a logarithm (ACEScct), as the core bakes them. */
const TONES = `uniform sampler2D light;
uniform highp sampler3D curves, table;
uniform float curved, looked, side;
uniform vec2 size;
uniform vec4 gradeAt, gradeHow;
uniform vec3 gradeTone;
uniform sampler2D gradeMatte;
uniform vec4 gradeChannel;
${AREA}
vec3 codes( vec3 lit ) {
  return mix( ( log2( max( lit, vec3( 0.0078125 ) ) ) + 9.72 ) / 17.52, 10.5402377416545 * lit + 0.0729055341958355,
    vec3( lessThanEqual( lit, vec3( 0.0078125 ) ) ) );
}
vec3 lights( vec3 code ) {
  vec3 high = exp2( code * 17.52 - 9.72 );
  return max( mix( high, ( code - 0.0729055341958355 ) / 10.5402377416545, vec3( lessThanEqual( code, vec3( 0.155251141552511 ) ) ) ), 0.0 );
}
vec3 through( highp sampler3D lattice, vec3 lit ) {
  vec3 code = codes( lit );
  vec3 held = clamp( code, 0.0, 1.0 );
  return lights( texture( lattice, ( held * ( side - 1.0 ) + 0.5 ) / side ).rgb + code - held );
}
void main() {
  vec3 lit = max( texture2D( light, place ).rgb, 0.0 );
  if ( curved > 0.0 ) lit += curved * ( through( curves, lit ) - lit );
  if ( looked > 0.0 ) lit += looked * ( through( table, lit ) - lit );
  vec3 plain = max( texture2D( light, place ).rgb, 0.0 );
  float share = areaShare( place, size, gradeAt, gradeHow ) * toneShare( plain, gradeTone )
    * dot( texture2D( gradeMatte, place ), gradeChannel );
  gl_FragColor = vec4( mix( plain, lit, share ), 1.0 );
}`;

interface Lattices {
  curves: THREE.Data3DTexture | null;
  table: THREE.Data3DTexture | null;
  side: number;
}

/** Draws through curves and table of a shot, as soon as they are here; the last ones stay until then. */
export class Tones {
  private key = "";
  private lattices: Lattices | null = null;
  private readonly none = latticeTexture({ shape: [1], data: [0, 0, 0] });

  constructor(
    private readonly shot: string,
    private readonly redraw: () => void,
  ) {}

  /** Those that go by a key; none where it is empty. */
  by(key: string): void {
    if (key === this.key) return;
    this.key = key;
    if (!key) {
      this.drop();
      return;
    }
    void gotBytes(`/api/shots/${this.shot}/tones?as=${key}`).then((bytes) => {
      if (this.key !== key) return;
      const { arrays } = unpack(bytes);
      const of = (name: string) => {
        const found = arrays.get(name);
        return found ? latticeTexture(found) : null;
      };
      const [curves, table] = [of("curves"), of("table")];
      this.drop();
      this.lattices = { curves, table, side: (curves ?? table)?.image.width ?? 2 };
      this.redraw();
    });
  }

  apply(
    passes: Passes,
    renderer: THREE.WebGLRenderer,
    light: THREE.Texture,
    width: number,
    height: number,
    of: OpticsValues,
  ): THREE.Texture {
    const { lattices } = this;
    if (!lattices) return light;
    return passes.draw(
      renderer,
      TONES,
      {
        light,
        curves: lattices.curves ?? this.none,
        table: lattices.table ?? this.none,
        curved: lattices.curves ? of("curves/strength") : 0,
        looked: lattices.table ? of("table/strength") : 0,
        side: lattices.side,
        size: new THREE.Vector2(width, height),
        ...areaUniforms(of, "grade", "grade"),
      },
      passes.target("toned", width, height),
    );
  }

  dispose(): void {
    this.drop();
    this.none.dispose();
  }

  private drop(): void {
    this.lattices?.curves?.dispose();
    this.lattices?.table?.dispose();
    this.lattices = null;
  }
}
