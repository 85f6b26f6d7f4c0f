import * as THREE from "three";
import type { Scene } from "../document/scene";

/** Terms that ask for the longer shader; all others are drawn with the shorter one. */
const LAYERS = ["clearcoat", "sheen", "anisotropy"];
const PLAIN_IOR = 1.5;

/** Make the materials that the finishes of a title need at any frame; true where one had to be made anew. */
export function fitMaterials(materials: THREE.MeshStandardMaterial[], scene: Scene, at: string): boolean {
  const finishes = scene.at(`${at}/metallic`, 0).length;
  let changed = materials.length !== finishes;
  for (const material of materials.splice(finishes)) material.dispose();
  const ever = (term: string, place: number, test: (value: number) => boolean) => scene.all(`${at}/${term}`).some((value, i) => i % finishes === place && test(value));
  for (let i = 0; i < finishes; i++) {
    const rich = LAYERS.some((term) => ever(term, i, (value) => value > 0)) || ever("ior", i, (value) => Math.abs(value - PLAIN_IOR) > 1e-3);
    const has = materials[i];
    if (has && has instanceof THREE.MeshPhysicalMaterial === rich) continue;
    has?.dispose();
    materials[i] = rich ? new THREE.MeshPhysicalMaterial() : new THREE.MeshStandardMaterial();
    changed = true;
  }
  return changed;
}

/** Give a material the terms of a finish at a frame. */
export function wear(material: THREE.MeshStandardMaterial, scene: Scene, at: string, frame: number, place: number): void {
  const term = (name: string) => scene.at(`${at}/${name}`, frame)[place]!;
  material.metalness = term("metallic");
  material.roughness = Math.max(0.03, term("roughness"));
  if (!(material instanceof THREE.MeshPhysicalMaterial)) return;
  material.ior = Math.min(2.333, term("ior"));
  material.clearcoat = term("clearcoat");
  material.clearcoatRoughness = term("clearcoat_roughness");
  material.sheen = term("sheen");
  material.sheenColor.setScalar(1);
  material.sheenRoughness = 0.5;
  material.anisotropy = term("anisotropy");
}
