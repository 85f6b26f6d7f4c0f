import * as THREE from "three";
import { bodyOf, letterMatrix, type LetterBody, type Scene } from "../../document/scene";
import type { TitleNode } from "./letters";

const PARTS = ["face", "bevel", "wall", "back"];

export interface Hit {
  thing: string;
  part: string;
  /** Index of the character the letter comes from. */
  source: number;
}

/** A place on a letter: its matrix, the place in its own frame, and where the surface faces. */
export interface Grip {
  matrix: THREE.Matrix4;
  at: THREE.Vector3;
  facing: [number, number, number];
}

/** What is seen where in the picture. */
export class Seen {
  constructor(
    private readonly world: THREE.Scene,
    private readonly camera: THREE.PerspectiveCamera,
    private readonly nodes: Map<string, TitleNode>,
  ) {}

  /** What is at a place of the picture; x and y run from 0 to 1, from the top left. */
  pick(x: number, y: number): Hit | null {
    const found = this.under(x, y);
    return found && found.hit;
  }

  /** The same with the place on the letter, in its own frame, and the direction it faces there. */
  under(x: number, y: number): { hit: Hit; grip: Grip } | null {
    this.world.updateMatrixWorld();
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x * 2 - 1, 1 - y * 2), this.camera);
    const hit = ray.intersectObjects([...this.nodes.values()].map((node) => node.group))[0];
    if (!hit) return null;
    const { thing, source, body } = hit.object.userData as { thing: string; source: number; body: string };
    const { ends } = bodyOf(body) as LetterBody;
    // A copy is what it is a copy of.
    const original = thing.replace(/--\d+$/, "");
    const mesh = hit.object as THREE.Mesh;
    const at = mesh.worldToLocal(hit.point.clone());
    const { x: nx, y: ny, z: nz } = hit.normal ?? new THREE.Vector3(0, 0, 1);
    return {
      hit: { thing: original, source, part: PARTS[ends.findIndex((end) => hit.faceIndex! < end)] ?? "face" },
      grip: { matrix: mesh.matrixWorld.clone(), at, facing: [nx, ny, nz] },
    };
  }

  /**
   * The gaps between neighbouring letters of a title in the picture; `perEm` is the share of its width an
   * em takes.
   */
  gaps(
    thing: string,
    scene: Scene,
    frame: number,
  ): { source: number; x: number; top: number; bottom: number; perEm: number }[] {
    const node = this.nodes.get(thing);
    if (!node) return [];
    const matrix = new THREE.Matrix4().fromArray(scene.at(`title/${thing}/matrix`, frame)).transpose();
    const seen = new Map<
      number,
      { low: THREE.Vector3; high: THREE.Vector3; baseline: number; metres: number }
    >();
    const poses = scene.poses(thing, frame);
    for (const letter of scene.letters(thing, frame)) {
      const { body, source } = letter;
      const own = letterMatrix(poses, letter);
      const shape = bodyOf(body);
      if (!shape || seen.has(source)) continue;
      const place = matrix.clone().multiply(new THREE.Matrix4().fromArray(own).transpose());
      const at = (x: number, y: number) =>
        new THREE.Vector3(x, y, shape.high[2]).applyMatrix4(place).project(this.camera);
      const [low, high] = [at(shape.low[0], shape.low[1]), at(shape.high[0], shape.high[1])];
      seen.set(source, { low, high, baseline: own[7]!, metres: shape.high[0] - shape.low[0] });
    }
    const all = [...seen].map(([source, letter]) => ({ source, ...letter }));
    // Line by line: neighbours stand on one baseline.
    return [...Map.groupBy(all, ({ baseline }) => Math.round(baseline * 1000)).values()].flatMap((line) => {
      line.sort((a, b) => a.low.x - b.low.x);
      const tall = Math.max(...line.map(({ low, high }) => high.y - low.y));
      return line.slice(1).map((b, i) => {
        const a = line[i]!;
        const perEm = ((a.high.x - a.low.x) / Math.max(a.metres, 1e-6) / 2) * scene.facts.titles[thing]!.em;
        const bottom = Math.min(a.low.y, b.low.y);
        return {
          source: a.source,
          x: ((a.high.x + b.low.x) / 2 + 1) / 2,
          top: (1 - (bottom + tall)) / 2,
          bottom: (1 - bottom) / 2,
          perEm,
        };
      });
    });
  }

  /**
   * The way a local direction of the letter under a place runs in the picture, per metre, in shares of its
   * height.
   */
  slope(grip: Grip, direction: [number, number, number]): [number, number] {
    const from = grip.at.clone().applyMatrix4(grip.matrix).project(this.camera);
    const to = grip.at
      .clone()
      .addScaledVector(new THREE.Vector3(...direction), 1e-3)
      .applyMatrix4(grip.matrix)
      .project(this.camera);
    return [(to.x - from.x) * 500 * this.camera.aspect, -(to.y - from.y) * 500];
  }

  /** Where a title lies in the picture: left, top, right, bottom from 0 to 1; null where it is not seen. */
  extent(thing: string): [number, number, number, number] | null {
    const node = this.nodes.get(thing);
    if (!node || !node.group.children.length) return null;
    const box = [Infinity, Infinity, -Infinity, -Infinity] as [number, number, number, number];
    const corner = new THREE.Vector3();
    for (const mesh of node.group.children) {
      const body = bodyOf(mesh.userData.body as string);
      if (!body) continue;
      for (let i = 0; i < 8; i++) {
        const from = (axis: 0 | 1 | 2) => (i & (1 << axis) ? body.high[axis] : body.low[axis]);
        corner
          .set(from(0), from(1), from(2))
          .applyMatrix4((mesh as THREE.Mesh).matrix)
          .applyMatrix4(node.group.matrix);
        corner.project(this.camera);
        if (corner.z > 1) continue;
        const [x, y] = [(corner.x + 1) / 2, (1 - corner.y) / 2];
        box[0] = Math.min(box[0], x);
        box[1] = Math.min(box[1], y);
        box[2] = Math.max(box[2], x);
        box[3] = Math.max(box[3], y);
      }
    }
    return box[0] < box[2] ? box : null;
  }

  /**
   * Where a point of the world lies in the picture, from 0 to 1 from the top left; null behind the camera.
   */
  project(point: [number, number, number]): [number, number] | null {
    const seen = new THREE.Vector3(...point).project(this.camera);
    return seen.z > 1 ? null : [(seen.x + 1) / 2, (1 - seen.y) / 2];
  }

  /** The point of the plane y = `height` that is seen at a place of the picture; null above its horizon. */
  onGround(x: number, y: number, height: number): [number, number, number] | null {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x * 2 - 1, 1 - y * 2), this.camera);
    const met = ray.ray.intersectPlane(
      new THREE.Plane(new THREE.Vector3(0, 1, 0), -height),
      new THREE.Vector3(),
    );
    return met && met.length() < 200 ? [met.x, met.y, met.z] : null;
  }
}
