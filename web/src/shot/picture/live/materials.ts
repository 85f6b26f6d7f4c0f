import * as THREE from "three";
import type { Scene } from "../../document/scene";

/** Terms that ask for the longer shader; all others are drawn with the shorter one. */
const LAYERS = ["clearcoat", "sheen", "anisotropy", "transmission"];
const PLAIN_IOR = 1.5;
// Height of a bump of depth 1, as a share of its size; its picture spans eight sizes.
const BUMP_HEIGHT = 0.25 / 8;

/**
 * Make the materials that the surfaces of a title need at any frame, for each of some letters that look
 * otherwise; true where one had to be made anew.
 */
export function fitMaterials(
  materials: THREE.MeshStandardMaterial[],
  scene: Scene,
  at: string,
  letters: number,
): boolean {
  const surfaces = scene.at(`${at}/metallic`, 0).length;
  let changed = materials.length !== surfaces * letters;
  for (const material of materials.splice(surfaces * letters)) material.dispose();
  const ever = (term: string, place: number, test: (value: number) => boolean) =>
    scene.all(`${at}/${term}`).some((value, i) => i % surfaces === place && test(value));
  const riches = Array.from(
    { length: surfaces },
    (_, i) =>
      LAYERS.some((term) => ever(term, i, (value) => value > 0)) ||
      ever("ior", i, (value) => Math.abs(value - PLAIN_IOR) > 1e-3),
  );
  for (let i = 0; i < surfaces * letters; i++) {
    const rich = riches[i % surfaces]!;
    const has = materials[i];
    if (has && has instanceof THREE.MeshPhysicalMaterial === rich) continue;
    has?.dispose();
    materials[i] = rich ? new THREE.MeshPhysicalMaterial() : new THREE.MeshStandardMaterial();
    changed = true;
  }
  return changed;
}

/** Give a material the terms of a surface at a frame. */
export function wear(
  material: THREE.MeshStandardMaterial,
  scene: Scene,
  at: string,
  frame: number,
  place: number,
  bump: [kind: string, span: number],
  redraw: () => void,
): void {
  const term = (name: string) => scene.at(`${at}/${name}`, frame)[place]!;
  const colour = (into: THREE.Color, name: string) => {
    const all = scene.at(`${at}/${name}`, frame);
    into.setRGB(all[place * 3]!, all[place * 3 + 1]!, all[place * 3 + 2]!, THREE.LinearSRGBColorSpace);
  };
  material.metalness = term("metallic");
  material.roughness = Math.max(0.03, term("roughness"));
  colour(material.emissive, "emission_colour");
  material.emissiveIntensity = term("emission");
  material.opacity = term("opacity");
  relief(material, bump, term("bump_depth"), redraw);
  if (!(material instanceof THREE.MeshPhysicalMaterial)) return;
  material.ior = Math.min(2.333, term("ior"));
  material.clearcoat = term("clearcoat");
  material.clearcoatRoughness = term("clearcoat_roughness");
  material.sheen = term("sheen");
  material.sheenColor.setScalar(1);
  material.sheenRoughness = 0.5;
  material.anisotropy = term("anisotropy");
  material.transmission = term("transmission");
  material.thickness = 0.15;
  material.attenuationDistance = term("attenuation_distance");
  colour(material.attenuationColor, "attenuation_colour");
}

/** Change what a material shows by what its letter looks like of itself: opacity, glow, roughness, tint. */
export function wearLooks(
  material: THREE.MeshStandardMaterial,
  looks: Float32Array | Uint32Array,
  letter: number,
): void {
  const [opacity, glow, roughness, red = 1, green = 1, blue = 1] = looks.subarray(letter * 6, letter * 6 + 6);
  const tint = new THREE.Color(red, green, blue);
  material.color.multiply(tint);
  material.emissive.multiply(tint);
  material.emissiveIntensity += glow!;
  material.roughness = Math.min(1, Math.max(0.03, material.roughness + roughness!));
  material.opacity *= opacity!;
}

/** Draw a material as one that lets light through, where it does. */
export function fitOpacity(material: THREE.MeshStandardMaterial): void {
  // A catcher darkens what is behind it.
  if (material.blending === THREE.CustomBlending) return;
  const lets = material.opacity < 1 || material.alphaMap !== null || material.userData.partly === true;
  if (material.transparent === lets) return;
  material.transparent = lets;
  material.needsUpdate = true;
}

const reliefs = new Map<string, THREE.Texture>();

function relief(
  material: THREE.MeshStandardMaterial,
  [kind, span]: [kind: string, span: number],
  depth: number,
  redraw: () => void,
): void {
  if (kind === "none") {
    if (material.bumpMap) {
      material.bumpMap = null;
      material.needsUpdate = true;
    }
    return;
  }
  const name = `${kind} ${span}`;
  let texture = reliefs.get(name);
  if (!texture) {
    texture = new THREE.TextureLoader().load(`/api/bumps/${kind}`, redraw);
    texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
    texture.repeat.set(1 / span, 1 / span);
    reliefs.set(name, texture);
  }
  if (material.bumpMap !== texture) {
    material.bumpMap = texture;
    material.needsUpdate = true;
  }
  material.bumpScale = depth * span * BUMP_HEIGHT;
}
