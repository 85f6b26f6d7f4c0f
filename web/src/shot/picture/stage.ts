import * as THREE from "three";
import { bodyOf, type LetterBody, type Scene } from "../document/scene";
import { Display } from "./display";
import { AroundView } from "./around";
import { coveredGeometry, Covers } from "./covers";
import { Lamps } from "./lamps";
import { fitMaterials, wear } from "./materials";
import { Shades } from "./shades";
import { LEVELS, Pace, type Level } from "./pace";

// Milliseconds without a change after which the picture counts as still.
const REST = 220;
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

export interface CameraPose {
  position: [number, number, number];
  aim: [number, number, number];
}

interface TitleNode {
  group: THREE.Group;
  /** One a surface. */
  materials: THREE.MeshStandardMaterial[];
  shown: unknown;
  /** The scene its materials are made for. */
  scene: Scene | null;
  /** Which surfaces its parts wore then. */
  worn: string;
  /** Where pictures lie on its letters now. */
  steps: string;
}

/**
 * Draws in WebGL what the core evaluated: same meshes, matrices, panels, surroundings and view
 * transform. It holds no rules; it plays back arrays.
 */
export class LiveStage {
  readonly renderer: THREE.WebGLRenderer;
  private readonly world = new THREE.Scene();
  private readonly camera = new THREE.PerspectiveCamera(30, 16 / 9, 0.02, 2000);
  private readonly titles = new Map<string, TitleNode>();
  private readonly geometries = new Map<string, THREE.BufferGeometry>();
  private readonly fills = new Map<string, THREE.Texture>();
  private scene: Scene | null = null;
  private frame = 0;
  private asked = 0;
  private pose: CameraPose | null = null;
  private readonly display = new Display(() => this.draw());
  private readonly lamps = new Lamps(this.world);
  private readonly around: AroundView;
  private readonly covers: Covers;
  private readonly shades: Shades;
  private readonly pace = new Pace();
  private box = { width: 1, height: 1 };
  private resting = 0;
  private detail: Level | "automatic" = "automatic";
  /** Called when bodies of the frame are not here yet. */
  onLacking: (names: string[]) => void = () => {};
  onDrawn: (revision: number, frame: number, level: Level) => void = () => {};

  constructor(canvas: HTMLCanvasElement, private readonly shot: string) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, powerPreference: "high-performance" });
    this.covers = new Covers(shot, () => this.draw());
    this.shades = new Shades(this.renderer);
    this.around = new AroundView(this.renderer, this.world, shot, () => this.draw());
    this.world.matrixAutoUpdate = false;
  }

  dispose(): void {
    cancelAnimationFrame(this.asked);
    clearTimeout(this.resting);
    this.display.dispose();
    for (const geometry of this.geometries.values()) geometry.dispose();
    for (const fill of this.fills.values()) fill.dispose();
    this.around.dispose();
    this.covers.dispose();
    this.shades.dispose();
    this.renderer.dispose();
  }

  size(width: number, height: number): void {
    this.box = { width, height };
    this.camera.aspect = width / height;
    this.draw(true);
  }

  /** How finely to draw from now on: always so, or as the machine can. */
  drawAs(detail: Level | "automatic"): void {
    this.detail = detail;
    this.draw(true);
  }

  show(scene: Scene, frame: number): void {
    this.scene = scene;
    this.frame = frame;
    this.draw();
  }

  /** Hold the camera here until the core has answered; null lets it go. */
  hold(pose: CameraPose | null): void {
    this.pose = pose;
    this.draw();
  }

  /** Draw soon, once for all changes made until then; what moves is drawn as finely as keeps up, and finely once it rests. */
  draw(resting = false): void {
    this.asked ||= requestAnimationFrame((now) => {
      this.asked = 0;
      const level = this.detail === "automatic" ? this.pace.level(!resting, now) : this.detail;
      clearTimeout(this.resting);
      if (!resting && level !== this.pace.level(false, now) && this.detail === "automatic") this.resting = window.setTimeout(() => this.draw(true), REST);
      this.drawNow(level);
    });
  }

  private drawNow(level: Level): void {
    const { scene } = this;
    if (!scene) return;
    const frame = scene.clamp(this.frame);
    this.placeCamera(scene, frame);
    this.placeTitles(scene, frame);
    this.lamps.place(scene, frame);
    this.around.place(scene, frame);
    const { ratio, samples, taps, side } = LEVELS[level];
    this.fit(ratio(window.devicePixelRatio));
    this.shades.place(scene, frame, this.titles, this.camera, taps, side);
    this.display.through(scene.facts.view);
    this.display.show(this.renderer, this.world, this.camera, 2 ** scene.at("camera/exposure", frame)[0]!, samples);
    this.timed(level);
    this.onDrawn(scene.revision, frame, level);
  }

  private fit(ratio: number): void {
    const { width, height } = this.box;
    const { width: w, height: h } = this.renderer.domElement;
    if (w === Math.floor(width * ratio) && h === Math.floor(height * ratio)) return;
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(width, height, false);
  }

  /** Learn how long this picture takes, without waiting for it. */
  private timed(level: Level): void {
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    const begun = performance.now();
    const fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    if (!fence) return;
    gl.flush();
    const look = () => {
      if (gl.isContextLost()) return;
      const now = performance.now();
      if (gl.getSyncParameter(fence, gl.SYNC_STATUS) === gl.SIGNALED || now - begun > 5000) {
        gl.deleteSync(fence);
        this.pace.took(level, now - begun, now);
      } else window.setTimeout(look, 4);
    };
    window.setTimeout(look, 0);
  }

  private placeCamera(scene: Scene, frame: number): void {
    const [x, y, z] = this.pose?.position ?? scene.at("camera/position", frame);
    const [ax, ay, az] = this.pose?.aim ?? scene.at("camera/aim", frame);
    this.camera.fov = scene.at("camera/angle", frame)[0]!;
    this.camera.position.set(x!, y!, z!);
    const forward = new THREE.Vector3(ax! - x!, ay! - y!, az! - z!).normalize();
    this.camera.up.set(0, Math.abs(forward.y) > 0.9999 ? 0 : 1, Math.abs(forward.y) > 0.9999 ? -1 : 0);
    this.camera.lookAt(ax!, ay!, az!);
    this.camera.rotateZ(-THREE.MathUtils.degToRad(scene.at("camera/roll", frame)[0]!));
    const far = this.camera.position.distanceTo(new THREE.Vector3(ax!, ay!, az!));
    this.camera.near = Math.max(0.005, far / 400);
    this.camera.far = Math.max(2500, far * 20);
    this.camera.updateProjectionMatrix();
    this.camera.updateMatrixWorld();
  }

  private placeTitles(scene: Scene, frame: number): void {
    const names = Object.keys(scene.facts.titles);
    for (const [name, node] of this.titles) {
      if (names.includes(name)) continue;
      this.world.remove(node.group);
      for (const material of node.materials) material.dispose();
      this.titles.delete(name);
    }
    const lacking: string[] = [];
    for (const name of names) {
      let node = this.titles.get(name);
      if (!node) {
        node = { group: new THREE.Group(), materials: [], shown: null, scene: null, worn: "", steps: "" };
        node.group.name = name;
        node.group.matrixAutoUpdate = false;
        this.titles.set(name, node);
        this.world.add(node.group);
      }
      const at = `title/${name}`;
      const letters = scene.letters(name, frame);
      const colours = scene.at(`${at}/base_colour`, frame);
      if (node.scene !== scene) {
        node.scene = scene;
        if (fitMaterials(node.materials, scene, at) || node.worn !== wornOf(scene, name)) node.shown = null;
        node.worn = wornOf(scene, name);
        for (const material of node.materials) this.shades.dress(material, scene, name);
      }
      const { materials } = node;
      const facts = scene.facts.titles[name]!;
      materials.forEach((material, i) => {
        material.color.setRGB(colours[i * 3]!, colours[i * 3 + 1]!, colours[i * 3 + 2]!, THREE.LinearSRGBColorSpace);
        wear(material, scene, at, frame, i, facts.bumps[i]!, () => this.draw());
        this.cover(material, i === 0 ? (facts.fill ?? "") : "", name);
        const picture = facts.pictures[i] ?? null;
        this.shades.fill(material, picture?.plate ? scene.at(`${at}/plate/${i}`, frame) : null);
        this.covers.wear(material, name, i, picture, picture ? scene.at(`${at}/playing/${i}`, frame)[0]! : 0);
      });
      const steps = facts.pictures.map((picture, i) => (picture ? scene.at(`${at}/laid_step/${i}`, frame)[0]! : 0));
      if (String(steps) !== node.steps) node.shown = null;
      node.steps = String(steps);
      node.group.visible = facts.seen;
      if (node.shown !== letters) {
        const ready = letters.filter(({ body }) => bodyOf(body));
        if (ready.length === letters.length) {
          node.group.clear();
          for (const { body, matrix, source, finish, index } of letters) {
            const worn = facts.worn[finish] ?? facts.worn[0]!;
            // One draw where all parts wear the same.
            const same = worn.every((surface) => surface === worn[0]);
            const covered = worn.some((surface) => facts.pictures[surface]);
            const geometry = covered ? coveredGeometry(this.geometry(body), bodyOf(body)!, worn, scene, at, index, facts.pictures, steps) : this.geometry(body);
            const mesh = new THREE.Mesh(geometry, same ? materials[worn[0]!] : worn.map((surface) => materials[surface]!));
            mesh.matrix.fromArray(matrix).transpose();
            mesh.userData = { thing: name, source, body };
            mesh.matrixAutoUpdate = false;
            node.group.add(mesh);
          }
          node.shown = letters;
        } else lacking.push(...letters.map(({ body }) => body));
      }
      node.group.matrix.fromArray(scene.at(`${at}/matrix`, frame)).transpose();
      node.group.matrixWorldNeedsUpdate = true;
    }
    if (lacking.length) this.onLacking(lacking);
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
      texture = new THREE.TextureLoader().load(`/api/shots/${this.shot}/things/${encodeURIComponent(thing)}/fill?${fill}`, () => this.draw());
      texture.colorSpace = THREE.SRGBColorSpace;
      this.fills.set(fill, texture);
    }
    if (material.map !== texture) {
      material.map = texture;
      material.needsUpdate = true;
    }
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
    body.ends.forEach((end, part) => geometry.addGroup((body.ends[part - 1] ?? 0) * 3, (end - (body.ends[part - 1] ?? 0)) * 3, part));
    this.geometries.set(name, geometry);
    if (this.geometries.size > 1500) this.forgetGeometries();
    return geometry;
  }

  private forgetGeometries(): void {
    const used = new Set<string>();
    for (const node of this.titles.values()) for (const mesh of node.group.children) used.add(mesh.userData.body as string);
    for (const [name, geometry] of this.geometries) {
      if (used.has(name)) continue;
      geometry.dispose();
      this.geometries.delete(name);
    }
  }

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
    const hit = ray.intersectObjects([...this.titles.values()].map((node) => node.group))[0];
    if (!hit) return null;
    const { thing, source, body } = hit.object.userData as { thing: string; source: number; body: string };
    const { ends } = bodyOf(body) as LetterBody;
    const mesh = hit.object as THREE.Mesh;
    const at = mesh.worldToLocal(hit.point.clone());
    const { x: nx, y: ny, z: nz } = hit.normal ?? new THREE.Vector3(0, 0, 1);
    return {
      hit: { thing, source, part: PARTS[ends.findIndex((end) => hit.faceIndex! < end)] ?? "face" },
      grip: { matrix: mesh.matrixWorld.clone(), at, facing: [nx, ny, nz] },
    };
  }

  /** The gaps between neighbouring letters of a title in the picture; `perEm` is the share of its width an em takes. */
  gaps(thing: string, scene: Scene, frame: number): { source: number; x: number; top: number; bottom: number; perEm: number }[] {
    const node = this.titles.get(thing);
    if (!node) return [];
    const matrix = new THREE.Matrix4().fromArray(scene.at(`title/${thing}/matrix`, frame)).transpose();
    const seen = new Map<number, { low: THREE.Vector3; high: THREE.Vector3; baseline: number; metres: number }>();
    for (const { body, matrix: own, source } of scene.letters(thing, frame)) {
      const shape = bodyOf(body);
      if (!shape || seen.has(source)) continue;
      const place = matrix.clone().multiply(new THREE.Matrix4().fromArray(own).transpose());
      const at = (x: number, y: number) => new THREE.Vector3(x, y, shape.high[2]).applyMatrix4(place).project(this.camera);
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
        const perEm = (((a.high.x - a.low.x) / Math.max(a.metres, 1e-6)) / 2) * scene.facts.titles[thing]!.em;
        const bottom = Math.min(a.low.y, b.low.y);
        return { source: a.source, x: ((a.high.x + b.low.x) / 2 + 1) / 2, top: (1 - (bottom + tall)) / 2, bottom: (1 - bottom) / 2, perEm };
      });
    });
  }

  /** The way a local direction of the letter under a place runs in the picture, per metre, in shares of its height. */
  slope(grip: Grip, direction: [number, number, number]): [number, number] {
    const from = grip.at.clone().applyMatrix4(grip.matrix).project(this.camera);
    const to = grip.at.clone().addScaledVector(new THREE.Vector3(...direction), 1e-3).applyMatrix4(grip.matrix).project(this.camera);
    return [((to.x - from.x) * 500 * this.camera.aspect), -(to.y - from.y) * 500];
  }

  /** Where a title lies in the picture: left, top, right, bottom from 0 to 1; null where it is not seen. */
  extent(thing: string): [number, number, number, number] | null {
    const node = this.titles.get(thing);
    if (!node || !node.group.children.length) return null;
    const box = [Infinity, Infinity, -Infinity, -Infinity] as [number, number, number, number];
    const corner = new THREE.Vector3();
    for (const mesh of node.group.children) {
      const body = bodyOf(mesh.userData.body as string);
      if (!body) continue;
      for (let i = 0; i < 8; i++) {
        const from = (axis: 0 | 1 | 2) => (i & (1 << axis) ? body.high[axis] : body.low[axis]);
        corner.set(from(0), from(1), from(2)).applyMatrix4((mesh as THREE.Mesh).matrix).applyMatrix4(node.group.matrix);
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

  /** Where a point of the world lies in the picture, from 0 to 1 from the top left; null behind the camera. */
  project(point: [number, number, number]): [number, number] | null {
    const seen = new THREE.Vector3(...point).project(this.camera);
    return seen.z > 1 ? null : [(seen.x + 1) / 2, (1 - seen.y) / 2];
  }

  /** The point of the plane y = `height` that is seen at a place of the picture; null above its horizon. */
  onGround(x: number, y: number, height: number): [number, number, number] | null {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x * 2 - 1, 1 - y * 2), this.camera);
    const met = ray.ray.intersectPlane(new THREE.Plane(new THREE.Vector3(0, 1, 0), -height), new THREE.Vector3());
    return met && met.length() < 200 ? [met.x, met.y, met.z] : null;
  }

  /** Distance at which one unit of the picture's height is one metre, for truck gestures. */
  metresPerHeight(): number {
    const pose = this.cameraPose();
    const far = Math.hypot(...pose.position.map((p, i) => p - pose.aim[i]!));
    return 2 * far * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2));
  }

  cameraPose(): CameraPose {
    if (this.pose) return this.pose;
    const frame = this.scene!.clamp(this.frame);
    return {
      position: [...this.scene!.at("camera/position", frame)] as [number, number, number],
      aim: [...this.scene!.at("camera/aim", frame)] as [number, number, number],
    };
  }
}

/** Changes with what makes letters' meshes differ though their bodies are the same: surfaces by part, and pictures on them. */
function wornOf(scene: Scene, name: string): string {
  const { worn, pictures } = scene.facts.titles[name]!;
  // Where a picture lies may change with every edit.
  return JSON.stringify([worn, pictures.some(Boolean) ? scene.revision : 0]);
}
