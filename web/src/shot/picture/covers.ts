import * as THREE from "three";
import type { LetterBody, Scene } from "../document/scene";

type Titles = Scene["facts"]["titles"];
export type Covered = NonNullable<Titles[string]["pictures"][number]>;

const WRAPS = { repeat: THREE.RepeatWrapping, mirrored: THREE.MirroredRepeatWrapping, once: THREE.ClampToEdgeWrapping };
const PARTS = ["face", "bevel", "wall", "back"];

/** Pictures on surfaces: their textures, and where they lie on each letter. */
export class Covers {
  private readonly textures = new Map<string, THREE.Texture>();

  constructor(
    private readonly shot: string,
    private readonly redraw: () => void,
  ) {}

  dispose(): void {
    for (const texture of this.textures.values()) texture.dispose();
  }

  /** Put a picture on a material, or take it off. */
  wear(material: THREE.MeshStandardMaterial, thing: string, surface: number, picture: Covered | null): void {
    const texture = picture && this.texture(thing, surface, picture);
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

  private texture(thing: string, surface: number, picture: Covered): THREE.Texture {
    const name = `${thing} ${surface} ${picture.key}`;
    let texture = this.textures.get(name);
    if (!texture) {
      texture = new THREE.TextureLoader().load(`/api/shots/${this.shot}/things/${encodeURIComponent(thing)}/surfaces/${surface}/picture?${picture.key}`, this.redraw);
      texture.wrapS = texture.wrapT = WRAPS[picture.repeat];
      texture.channel = 1;
      if (picture.channel === "base colour" || picture.channel === "emission") texture.colorSpace = THREE.SRGBColorSpace;
      this.textures.set(name, texture);
    }
    return texture;
  }
}

function put(material: THREE.MeshStandardMaterial, slot: "map" | "emissiveMap" | "roughnessMap" | "alphaMap", texture: THREE.Texture | null): void {
  // What is on a sheet is not ours to take off.
  if (material[slot] === texture || (slot === "map" && !texture && material.map?.channel !== 1)) return;
  material[slot] = texture;
  material.needsUpdate = true;
}

/** A geometry of a letter with picture coordinates; `worn` says which surface its four parts wear. */
export function coveredGeometry(base: THREE.BufferGeometry, body: LetterBody, worn: number[], scene: Scene, at: string, index: number, pictures: (Covered | null)[]): THREE.BufferGeometry {
  const made = new THREE.BufferGeometry();
  for (const name of ["position", "normal", "uv"]) if (base.hasAttribute(name)) made.setAttribute(name, base.getAttribute(name));
  made.setIndex(base.getIndex());
  for (const group of base.groups) made.addGroup(group.start, group.count, group.materialIndex);
  const count = body.position.length / 3;
  const uv = new Float32Array(count * 2);
  PARTS.forEach((part, k) => {
    const surface = worn[k]!;
    const picture = pictures[surface];
    if (!picture) return;
    const m = scene.all(`${at}/laid/${surface}`).subarray(index * 14, index * 14 + 14);
    const runs = picture.running && (part === "wall" || part === "bevel") && body.uv;
    for (let i = (body.ends[k - 1] ?? 0) * 3; i < body.ends[k]! * 3; i++) {
      const v = body.triangles[i]!;
      const [x, y, z] = runs ? [body.uv![v * 2]!, body.uv![v * 2 + 1]!, 0] : [body.position[v * 3]!, body.position[v * 3 + 1]!, body.position[v * 3 + 2]!];
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
