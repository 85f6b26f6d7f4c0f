import * as THREE from "three";
import type { LetterBody, Scene } from "../../document/scene";

type Titles = Scene["facts"]["titles"];
export type Covered = NonNullable<Titles[string]["pictures"][number]>;

const WRAPS = {
  repeat: THREE.RepeatWrapping,
  mirrored: THREE.MirroredRepeatWrapping,
  once: THREE.ClampToEdgeWrapping,
};
const MOST_HELD = 48;
const PARTS = ["face", "bevel", "wall", "back"];

/** Pictures on surfaces: their textures, and where they lie on each letter. */
export class Covers {
  private readonly textures = new Map<string, THREE.Texture>();
  /** The texture that was last here, of each surface. */
  private readonly here = new Map<string, string>();

  constructor(
    private readonly shot: string,
    private readonly redraw: () => void,
  ) {}

  dispose(): void {
    for (const texture of this.textures.values()) texture.dispose();
  }

  /** Put a picture, or a frame of a video, on a material, or take it off. */
  wear(
    material: THREE.MeshStandardMaterial,
    thing: string,
    surface: number,
    picture: Covered | null,
    playing: number,
  ): void {
    const texture = picture && this.texture(thing, surface, picture, picture.plays ? playing : 0);
    const on = (channel: Covered["channel"]) => (picture?.channel === channel ? texture : null);
    put(material, "map", on("base colour"));
    put(material, "emissiveMap", on("emission"));
    put(material, "roughnessMap", on("roughness"));
    put(material, "alphaMap", on("opacity"));
    if (picture?.channel === "base colour") material.color.setRGB(1, 1, 1);
    if (picture?.channel === "emission") {
      material.emissive.setRGB(1, 1, 1);
      material.emissiveIntensity = 1;
    }
    if (picture?.channel === "roughness") material.roughness = 1;
    if (picture?.channel === "opacity" && !material.transparent) {
      material.transparent = true;
      material.needsUpdate = true;
    }
  }

  private texture(thing: string, surface: number, picture: Covered, playing: number): THREE.Texture {
    const place = `${thing} ${surface} ${picture.key}`;
    const name = `${place} ${playing}`;
    let texture = this.textures.get(name);
    if (!texture) {
      const address = `/api/shots/${this.shot}/things/${encodeURIComponent(thing)}/surfaces/${surface}/picture?frame=${playing}&as=${picture.key}`;
      texture = new THREE.TextureLoader().load(address, () => {
        this.here.set(place, name);
        this.redraw();
      });
      texture.wrapS = texture.wrapT = WRAPS[picture.repeat];
      texture.channel = 1;
      if (picture.channel === "base colour" || picture.channel === "emission")
        texture.colorSpace = THREE.SRGBColorSpace;
      this.textures.set(name, texture);
      this.forget(place);
    }
    // Until the frame is here the last one stays.
    const here = this.here.get(place);
    return (!texture.image && here && this.textures.get(here)) || texture;
  }

  /** Of a video only the frames seen last are kept. */
  private forget(place: string): void {
    const held = [...this.textures.keys()].filter((name) => name.startsWith(`${place} `));
    for (const name of held.slice(0, -MOST_HELD)) {
      if (name === this.here.get(place)) continue;
      this.textures.get(name)!.dispose();
      this.textures.delete(name);
    }
  }
}

function put(
  material: THREE.MeshStandardMaterial,
  slot: "map" | "emissiveMap" | "roughnessMap" | "alphaMap",
  texture: THREE.Texture | null,
): void {
  // What is on a sheet is not ours to take off.
  if (material[slot] === texture || (slot === "map" && !texture && material.map?.channel !== 1)) return;
  material[slot] = texture;
  material.needsUpdate = true;
}

/** A geometry of a letter with picture coordinates; `worn` says which surface its four parts wear. */
export function coveredGeometry(
  base: THREE.BufferGeometry,
  body: LetterBody,
  worn: number[],
  scene: Scene,
  at: string,
  index: number,
  pictures: (Covered | null)[],
  steps: number[],
): THREE.BufferGeometry {
  const made = new THREE.BufferGeometry();
  for (const name of ["position", "normal", "uv"])
    if (base.hasAttribute(name)) made.setAttribute(name, base.getAttribute(name));
  made.setIndex(base.getIndex());
  for (const group of base.groups) made.addGroup(group.start, group.count, group.materialIndex);
  const count = body.position.length / 3;
  const uv = new Float32Array(count * 2);
  PARTS.forEach((part, k) => {
    const surface = worn[k]!;
    const picture = pictures[surface];
    if (!picture) return;
    const place = (steps[surface]! * picture.letters + index) * 14;
    const m = scene.all(`${at}/laid/${surface}`).subarray(place, place + 14);
    const runs = picture.running && (part === "wall" || part === "bevel") && body.uv;
    for (let i = (body.ends[k - 1] ?? 0) * 3; i < body.ends[k]! * 3; i++) {
      const v = body.triangles[i]!;
      const [x, y, z] = runs
        ? [body.uv![v * 2]!, body.uv![v * 2 + 1]!, 0]
        : [body.position[v * 3]!, body.position[v * 3 + 1]!, body.position[v * 3 + 2]!];
      for (let row = 0; row < 2; row++) {
        uv[v * 2 + row] = runs
          ? m[8 + row * 3]! * x + m[9 + row * 3]! * y + m[10 + row * 3]!
          : m[row * 4]! * x + m[row * 4 + 1]! * y + m[row * 4 + 2]! * z + m[row * 4 + 3]!;
      }
    }
  });
  made.setAttribute("uv1", new THREE.BufferAttribute(uv, 2));
  return made;
}
