import * as THREE from "three";
import { bodyOf, letterMatrix, type Scene } from "../../document/scene";
import { coveredGeometry, Covers } from "./covers";
import { heldOut } from "./heldOut";
import { fitMaterials, fitOpacity, wear, wearLooks } from "./materials";
import type { Blend } from "./blends";
import type { Shades } from "./shadowMaps";

const SCRATCH = new Float32Array(16);

export interface TitleNode {
  group: THREE.Group;
  /** One a surface; where letters look otherwise, of each letter. */
  materials: THREE.MeshStandardMaterial[];
  shown: unknown;
  /** The scene its materials are made for. */
  scene: Scene | null;
  /** Which surfaces its parts wore then. */
  worn: string;
  /** Where pictures lie on its letters now. */
  steps: string;
  /** Whether it is there at this frame, seen or not. */
  there: boolean;
  /** Whether its materials are those of a catcher, or of what is uncovered bit by bit; how they blend. */
  catches: boolean;
  reveals: boolean;
  blend: Blend;
  /** Whether it goes over into what is behind it. */
  fades: boolean;
}

/** The letters of everything that has a body, as meshes that stand where the core says. */
export class Letters {
  readonly nodes = new Map<string, TitleNode>();
  private readonly geometries = new Map<string, THREE.BufferGeometry>();
  private readonly fills = new Map<string, THREE.Texture>();
  private readonly covers: Covers;

  constructor(
    private readonly world: THREE.Scene,
    private readonly shades: Shades,
    private readonly shot: string,
    private readonly redraw: () => void,
  ) {
    this.covers = new Covers(shot, redraw);
  }

  dispose(): void {
    for (const node of this.nodes.values()) this.empty(node.group);
    for (const geometry of this.geometries.values()) geometry.dispose();
    for (const fill of this.fills.values()) fill.dispose();
    this.covers.dispose();
  }

  /** Place them as they are at a frame; names of the bodies that are not here yet. */
  place(scene: Scene, frame: number): string[] {
    const names = Object.keys(scene.facts.titles);
    for (const [name, node] of this.nodes) {
      if (names.includes(name)) continue;
      this.world.remove(node.group);
      this.empty(node.group);
      for (const material of node.materials) material.dispose();
      this.nodes.delete(name);
    }
    const lacking: string[] = [];
    for (const name of names) {
      let node = this.nodes.get(name);
      if (!node) {
        node = {
          there: true,
          catches: false,
          reveals: false,
          blend: "normal",
          fades: false,
          group: new THREE.Group(),
          materials: [],
          shown: null,
          scene: null,
          worn: "",
          steps: "",
        };
        node.group.name = name;
        node.group.matrixAutoUpdate = false;
        this.nodes.set(name, node);
        this.world.add(node.group);
      }
      const at = `title/${name}`;
      const letters = scene.letters(name, frame);
      const colours = scene.at(`${at}/base_colour`, frame);
      if (node.scene !== scene) {
        node.scene = scene;
        const { catches, reveals, blend, fades: metres } = scene.facts.titles[name]!;
        const now = { catches, reveals, blend, fades: metres > 0 };
        if (Object.entries(now).some(([key, value]) => node![key as keyof typeof now] !== value)) {
          Object.assign(node, now);
          for (const material of node.materials.splice(0)) material.dispose();
        }
        const own = scene.facts.titles[name]!.own_looks ? scene.poses(name, frame).length / 12 : 1;
        if (fitMaterials(node.materials, scene, at, own) || node.worn !== wornOf(scene, name))
          node.shown = null;
        node.worn = wornOf(scene, name);
        for (const material of node.materials) this.shades.dress(material, scene, name);
      }
      const { materials } = node;
      const facts = scene.facts.titles[name]!;
      const surfaces = facts.bumps.length;
      materials.forEach((material, place) => {
        const i = place % surfaces;
        material.color.setRGB(
          colours[i * 3]!,
          colours[i * 3 + 1]!,
          colours[i * 3 + 2]!,
          THREE.LinearSRGBColorSpace,
        );
        wear(material, scene, at, frame, i, facts.bumps[i]!, this.redraw);
        if (facts.own_looks)
          wearLooks(material, scene.at(`${at}/looks`, frame), Math.floor(place / surfaces));
        if (facts.reveals) this.shades.uncover(material, scene.at(`${at}/reveal`, frame));
        if (facts.fades) this.shades.fade(material, facts.fades, scene.at(`${at}/matrix`, frame));
        fitOpacity(material);
        this.cover(material, i === 0 ? (facts.fill ?? "") : "", name);
        const picture = facts.pictures[i] ?? null;
        this.shades.fill(material, picture?.plate ? scene.at(`${at}/plate/${i}`, frame) : null);
        this.covers.wear(material, name, i, picture, picture ? scene.at(`${at}/playing/${i}`, frame)[0]! : 0);
      });
      const steps = facts.pictures.map((picture, i) =>
        picture ? scene.at(`${at}/laid_step/${i}`, frame)[0]! : 0,
      );
      if (String(steps) !== node.steps) node.shown = null;
      node.steps = String(steps);
      node.there = scene.at(`${at}/there`, frame)[0] === 1;
      node.group.visible = facts.seen && node.there;
      if (node.shown !== letters) {
        const ready = letters.filter(({ body }) => bodyOf(body));
        if (ready.length === letters.length) {
          this.empty(node.group);
          for (const { body, piece, source, finish, index } of letters) {
            // Of letters that look otherwise than their finish, each has materials of its own.
            const own = facts.own_looks ? piece * surfaces : 0;
            const worn = facts.worn[finish] ?? facts.worn[0]!;
            // One draw where all parts wear the same.
            const same = worn.every((surface) => surface === worn[0]);
            const covered = worn.some((surface) => facts.pictures[surface]);
            const geometry = covered
              ? coveredGeometry(
                  this.geometry(body),
                  bodyOf(body)!,
                  worn,
                  scene,
                  at,
                  index,
                  facts.pictures,
                  steps,
                )
              : this.geometry(body);
            const mesh = new THREE.Mesh(
              geometry,
              same ? materials[own + worn[0]!] : worn.map((surface) => materials[own + surface]!),
            );
            mesh.userData = { thing: name, source, body };
            mesh.matrixAutoUpdate = false;
            // What stands on a floor, and lets light through, lies over it.
            if (facts.fades) mesh.renderOrder = -1;
            if (node.catches) mesh.add(heldOut(geometry));
            node.group.add(mesh);
          }
          node.shown = letters;
        } else lacking.push(...letters.map(({ body }) => body));
      }
    }
    this.move(scene, frame);
    return lacking;
  }

  /** Put what is there where it is at a time, between frames too: no mesh is made for it. */
  move(scene: Scene, time: number): void {
    for (const [name, node] of this.nodes) {
      const letters = scene.letters(name, time);
      const poses = scene.between(`title/${name}/poses`, time);
      if (node.shown === letters)
        node.group.children.forEach((mesh, i) =>
          mesh.matrix.fromArray(letterMatrix(poses, letters[i]!, SCRATCH)).transpose(),
        );
      node.group.matrix.fromArray(scene.between(`title/${name}/matrix`, time)).transpose();
      node.group.matrixWorldNeedsUpdate = true;
    }
  }

  /** Put what is on a sheet onto its material; drawn again when it is here. */
  private cover(material: THREE.MeshStandardMaterial, fill: string, thing: string): void {
    if (!fill) {
      if (material.map && material.map.channel === 0) {
        material.map = null;
        material.needsUpdate = true;
      }
      return;
    }
    material.color.setRGB(1, 1, 1);
    let texture = this.fills.get(fill);
    if (!texture) {
      texture = new THREE.TextureLoader().load(
        `/api/shots/${this.shot}/things/${encodeURIComponent(thing)}/fill?${fill}`,
        this.redraw,
      );
      texture.colorSpace = THREE.SRGBColorSpace;
      this.fills.set(fill, texture);
    }
    if (material.map !== texture) {
      material.map = texture;
      material.needsUpdate = true;
    }
  }

  /** Take the letters off; geometries that were made for pictures on them go too. */
  private empty(group: THREE.Group): void {
    for (const mesh of group.children as THREE.Mesh[])
      if (mesh.geometry.hasAttribute("uv1")) mesh.geometry.dispose();
    group.clear();
  }

  private geometry(name: string): THREE.BufferGeometry {
    const known = this.geometries.get(name);
    if (known) return known;
    const body = bodyOf(name)!;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(body.position, 3));
    geometry.setAttribute("normal", new THREE.BufferAttribute(body.normal, 3));
    if (body.uv) geometry.setAttribute("uv", new THREE.BufferAttribute(body.uv, 2));
    geometry.setIndex(new THREE.BufferAttribute(body.triangles, 1));
    body.ends.forEach((end, part) =>
      geometry.addGroup((body.ends[part - 1] ?? 0) * 3, (end - (body.ends[part - 1] ?? 0)) * 3, part),
    );
    this.geometries.set(name, geometry);
    if (this.geometries.size > 1500) this.forgetGeometries();
    return geometry;
  }

  private forgetGeometries(): void {
    const used = new Set<string>();
    for (const node of this.nodes.values())
      for (const mesh of node.group.children) used.add(mesh.userData.body as string);
    for (const [name, geometry] of this.geometries) {
      if (used.has(name)) continue;
      geometry.dispose();
      this.geometries.delete(name);
    }
  }
}

/**
 * Changes with what makes letters' meshes differ though their bodies are the same: surfaces by part, and
 * pictures on them.
 */
function wornOf(scene: Scene, name: string): string {
  const { worn, pictures, own_looks } = scene.facts.titles[name]!;
  // Where a picture lies may change with every edit.
  return JSON.stringify([worn, own_looks, pictures.some(Boolean) ? [scene.revision, scene.facts.first] : 0]);
}
