import * as THREE from "three";
import { isFloor, type Scene } from "../../document/scene";
import { Display } from "./display";
import { whenDrawn } from "./fence";
import { opticsAt } from "./optics/values";
import { AroundView } from "./around";
import { AirView } from "./air";
import { BEFORE_LAYER, BeforeView } from "./before";
import { Lamps } from "./lamps";
import { Mattes } from "./mattes";
import { Letters } from "./letters";
import { LEVELS, Pace, type Level } from "./adaptiveQuality";
import { Programs } from "./programs";
import { Mirror } from "./mirror";
import { NearBodies } from "./nearReflections";
import { Rest, type Painting } from "./accumulation";
import { Seen } from "./picking";
import { Shades } from "./shadowMaps";
import { Shafts } from "./shafts";

// Milliseconds without a change after which the picture counts as standing still.
const REST = 220;
// Milliseconds for which the first live picture gives way to the first traced one.
const HOLD = 2000;
// Where a picture that stands still is drawn again, in pixels from where it was: with the four places that
// the browser
// averages in each, thirty-two lie evenly across and down, and the first sixteen nearly so.
const PLACES: [number, number][] = [
  [-5, 1],
  [3, -7],
  [-3, 7],
  [5, -1],
  [-7, -5],
  [1, 3],
  [-1, -3],
  [7, 5],
].map(([x, y]) => [x! / 64, y! / 64]);

// Milliseconds a picture beyond which fewer must do, of focus and movement as the core lists them: half, or a
// quarter.
const SLOW = 700;
const HALF = 16;
const SLOWEST = 3000;
// So many pictures drawn by chance are shown at least.
const FEW = 4;

/**
 * How the live view is looked at: the eye rests on it; passes over it until the traced picture is here, so
 * that it is
 * not drawn finely; or does not see it, so that it is drawn quickly.
 */
export type Gaze = "rests" | "passes" | "elsewhere";

/** Which of the pictures that are averaged it is that is drawn at a time: the first of all is drawn twice. */
const nth = (time: number): number => Math.max(0, time - 1);

export interface CameraPose {
  position: [number, number, number];
  aim: [number, number, number];
}

/**
 * Draws in WebGL what the core evaluated: same meshes, matrices, panels, surroundings and view
 * transform. It holds no rules; it plays back arrays.
 */
export class LiveStage {
  readonly renderer: THREE.WebGLRenderer;
  private readonly world = new THREE.Scene();
  private readonly camera = new THREE.PerspectiveCamera(30, 16 / 9, 0.02, 2000);
  private scene: Scene | null = null;
  private frame = 0;
  private asked = 0;
  /** Something has changed since what was drawn last. */
  private moved = false;
  private pose: CameraPose | null = null;
  private readonly display: Display;
  private readonly mirror = new Mirror();
  private readonly near = new NearBodies();
  private readonly lamps = new Lamps(this.world);
  private readonly around: AroundView;
  private readonly before: BeforeView;
  private readonly air = new AirView(this.world);
  private readonly mattes = new Mattes();
  private readonly shafts = new Shafts();
  private readonly shades: Shades;
  private readonly letters: Letters;
  private readonly programs: Programs;
  readonly seen: Seen;
  private readonly pace = new Pace();
  private readonly rest: Rest;
  private box = { width: 1, height: 1 };
  /** Nothing has been drawn yet. */
  private fresh = true;
  private readonly begun = performance.now();
  private resting = 0;
  private detail: Level | "automatic" = "automatic";
  /** Called when bodies of the frame are not here yet. */
  onLacking: (names: string[]) => void = () => {};
  onDrawn: (revision: number, frame: number, level: Level) => void = () => {};
  /** Called when a picture that stands still has been drawn so many times, of so many. */
  onRefined: (times: number, of: number) => void = () => {};
  private gaze: Gaze = "rests";

  constructor(canvas: HTMLCanvasElement, shot: string) {
    this.renderer = new THREE.WebGLRenderer({
      canvas,
      antialias: false,
      powerPreference: "high-performance",
    });
    this.display = new Display(shot, () => this.draw());
    this.shades = new Shades(this.renderer);
    this.letters = new Letters(this.world, this.shades, shot, () => this.draw());
    this.seen = new Seen(this.world, this.camera, this.letters.nodes);
    this.around = new AroundView(this.renderer, this.world, shot, () => this.draw());
    this.before = new BeforeView(this.world, shot, () => this.draw());
    this.camera.layers.enable(BEFORE_LAYER);
    this.rest = new Rest(this.renderer);
    this.programs = new Programs(this.renderer, this.world, this.camera, this.display, () => this.draw());
    this.world.matrixAutoUpdate = false;
  }

  dispose(): void {
    cancelAnimationFrame(this.asked);
    clearTimeout(this.resting);
    this.rest.stop();
    this.display.dispose();
    this.around.dispose();
    this.before.dispose();
    this.air.dispose();
    this.letters.dispose();
    this.shades.dispose();
    this.mattes.dispose();
    this.shafts.dispose();
    this.mirror.dispose();
    this.near.dispose();
    this.programs.dispose();
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

  lookedAt(gaze: Gaze): void {
    if (gaze === this.gaze) return;
    this.gaze = gaze;
    if (gaze === "elsewhere") this.rest.stop();
    else this.draw(gaze === "rests");
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

  /**
   * Draw soon, once for all changes made until then; what moves is drawn as finely as keeps up, and finely
   * once it rests.
   */
  draw(resting = false): void {
    this.rest.stop();
    clearTimeout(this.resting);
    this.moved ||= !resting;
    this.asked ||= requestAnimationFrame((now) => {
      const rests = !this.moved && this.gaze === "rests" && !this.fresh;
      this.asked = 0;
      this.moved = false;
      const finest = this.detail === "automatic" ? this.pace.level(false, now) : this.detail;
      const moving = this.detail === "automatic" ? this.pace.level(true, now) : this.detail;
      this.drawNow(this.gaze === "elsewhere" || this.fresh ? "quick" : rests ? finest : moving, rests);
    });
  }

  private drawNow(level: Level, resting: boolean): void {
    const { scene } = this;
    if (!scene) return;
    const frame = scene.clamp(this.frame);
    this.placeCamera(scene, frame);
    const lacking = this.letters.place(scene, frame);
    if (lacking.length) this.onLacking(lacking);
    if (this.fresh && this.holds()) return;
    this.lamps.place(scene, frame);
    this.around.place(scene, frame);
    this.air.place(scene, frame);
    this.before.place(scene, frame, this.world.background as THREE.Texture | THREE.Color | null);
    if (this.fresh && this.around.awaited) return;
    const materials = [...this.letters.nodes.values()].flatMap((node) => node.materials);
    if (!this.programs.ready(materials, Object.values(scene.facts.lights).join())) return;
    this.fresh = false;
    const { ratio, taps, side } = LEVELS[level];
    const size = new THREE.Vector2(this.box.width, this.box.height)
      .multiplyScalar(ratio(window.devicePixelRatio))
      .floor();
    this.shades.near.nearOn.value = 0;
    this.shades.place(scene, frame, this.letters.nodes, this.camera, size, taps, side);
    this.mirrorFloors(scene, size);
    this.display.through(scene.facts.view);
    this.display.toned(scene.facts.tones);
    this.display.movedBy(scene.facts.displaced_by);
    // What is seen through glass is drawn for every part anew.
    const whole = materials.some(
      (material) => material instanceof THREE.MeshPhysicalMaterial && material.transmission > 0,
    );
    const expected = this.pace.expected(level, performance.now());
    const painting = this.painting(scene, frame, level, size);
    if (resting) {
      this.rest.paint(painting, 0, expected, whole);
      return;
    }
    painting.part(0, 0, 1);
    painting.show(0);
    whenDrawn(this.renderer, (milliseconds) => painting.took(milliseconds));
    const finest = this.detail === "automatic" ? this.pace.level(false, performance.now()) : this.detail;
    this.resting = window.setTimeout(() => {
      if (this.gaze !== "rests") return;
      if (level === finest) this.rest.paint(painting, 1, expected, whole);
      else this.draw(true);
    }, REST);
  }

  /** Draw what floors mirror: what stands on them, from the other side. */
  private mirrorFloors(scene: Scene, size: THREE.Vector2): void {
    for (const [name, node] of this.letters.nodes) {
      const [material] = node.materials;
      if (!material || node.catches || !isFloor(scene, name) || !node.group.visible) continue;
      const uniforms = this.shades.mirrorOf(material);
      if (!uniforms) continue;
      node.group.visible = false;
      this.shades.without(() =>
        this.mirror.draw(this.renderer, this.world, this.camera, name, node.group.matrix, size, uniforms),
      );
      node.group.visible = true;
    }
  }

  private painting(scene: Scene, frame: number, level: Level, size: THREE.Vector2): Painting {
    const { samples } = LEVELS[level];
    const exposure = 2 ** scene.at("camera/exposure", frame)[0]!;
    const expected = this.pace.expected(level, performance.now());
    const many = expected > SLOWEST ? PLACES.length : expected > SLOW ? HALF : scene.facts.at_rest.length;
    // The first one is what the others mirror; it is not one of them.
    const times =
      level === "fine" ? 1 + Math.max(PLACES.length, Math.min(many, scene.facts.at_rest.length)) : 1;
    return {
      times,
      part: (time, low, high) => this.part(scene, frame, size, samples, time, low, high),
      show: (time) => {
        this.display.add(this.renderer, samples, nth(time));
        // What comes after that costs as much again: it is looked at as often as there are twice as many,
        // once chance has had a few tries.
        const many = nth(time) + 1;
        if (time === 0 || time + 1 === times || (many >= FEW && Number.isInteger(Math.log2(many))))
          this.present(scene, frame, size, exposure, samples, time);
        if (time === 0) this.onDrawn(scene.revision, frame, level);
        else this.onRefined(time, times - 1);
      },
      took: (milliseconds) => this.pace.took(level, milliseconds, performance.now()),
    };
  }

  /** The mean of what was drawn up to a time, through air and optics. */
  private present(
    scene: Scene,
    frame: number,
    size: THREE.Vector2,
    exposure: number,
    samples: number,
    time: number,
  ): void {
    this.fit(size);
    const { renderer, camera, letters, shades } = this;
    const optics = opticsAt(scene, frame);
    if (optics) optics.matte = this.mattes.draw(renderer, camera, scene, letters.nodes, size, optics);
    const spin = (nth(time) % PLACES.length) / PLACES.length;
    this.display.show(renderer, exposure, samples, frame, optics, (shown) =>
      this.shafts.over(renderer, camera, scene, frame, letters.nodes, shades, shown, spin),
    );
  }

  /** The first traced picture is on its way: to begin drawing now would hold up both. */
  private holds(): boolean {
    const left = this.begun + HOLD - performance.now();
    if (this.gaze !== "passes" || left <= 0) return false;
    this.resting = window.setTimeout(() => this.draw(), left);
    return true;
  }

  private part(
    scene: Scene,
    frame: number,
    size: THREE.Vector2,
    samples: number,
    time: number,
    low: number,
    high: number,
  ): void {
    const place = nth(time) % PLACES.length;
    const [x, y] = PLACES[place]!;
    const [across = 0, up = 0, later = 0] = scene.facts.at_rest[nth(time)] ?? [];
    const { near } = this.shades;
    near.nearOn.value = 0;
    if (time === 1 && low === 0) {
      const { nodes } = this.letters;
      const floor = [...nodes.keys()].find((name) => isFloor(scene, name) && nodes.get(name)!.group.visible);
      this.near.see(this.renderer, this.camera, nodes, floor, size, near);
    }
    if (later) this.placeAt(scene, frame + later);
    const [dx, dy] = this.throughLens(scene, frame, across, up, size.y);
    this.camera.setViewOffset(size.x, size.y, x - dx, y + dy, size.x, size.y);
    this.shades.spin(place / PLACES.length);
    if (time) this.near.mirroredIn(this.display.mean, this.camera, time, near);
    this.display.part(this.renderer, this.world, this.camera, size, samples, low, high);
    this.camera.clearViewOffset();
    if (across || up || later) this.placeAt(scene, frame);
  }

  /** Camera and letters where they are at a time between frames. */
  private placeAt(scene: Scene, time: number): void {
    this.placeCamera(scene, time);
    this.letters.move(scene, time);
  }

  /**
   * Move the camera to a place on its opening; by how many pixels the picture must be shifted, so that what
   * is in focus stays where it is.
   */
  private throughLens(
    scene: Scene,
    frame: number,
    across: number,
    up: number,
    height: number,
  ): [number, number] {
    const radius = scene.at("camera/lens", frame)[0]!;
    if (!radius || (!across && !up)) return [0, 0];
    this.camera.translateX(across * radius);
    this.camera.translateY(up * radius);
    this.camera.updateMatrixWorld();
    const far = scene.at("camera/focus", frame)[0]!;
    const pixels = height / (2 * far * Math.tan(THREE.MathUtils.degToRad(this.camera.fov / 2)));
    return [across * radius * pixels, up * radius * pixels];
  }

  /** Only when the next picture is there: a canvas that changes its size is empty. */
  private fit({ x, y }: THREE.Vector2): void {
    const { width, height } = this.renderer.domElement;
    if (width !== x || height !== y) this.renderer.setDrawingBufferSize(x, y, 1);
  }

  private placeCamera(scene: Scene, time: number): void {
    const [x, y, z] = this.pose?.position ?? scene.between("camera/position", time);
    const [ax, ay, az] = this.pose?.aim ?? scene.between("camera/aim", time);
    this.camera.fov = scene.between("camera/angle", time)[0]!;
    this.camera.position.set(x!, y!, z!);
    const forward = new THREE.Vector3(ax! - x!, ay! - y!, az! - z!).normalize();
    this.camera.up.set(0, Math.abs(forward.y) > 0.9999 ? 0 : 1, Math.abs(forward.y) > 0.9999 ? -1 : 0);
    this.camera.lookAt(ax!, ay!, az!);
    this.camera.rotateZ(-THREE.MathUtils.degToRad(scene.between("camera/roll", time)[0]!));
    const far = this.camera.position.distanceTo(new THREE.Vector3(ax!, ay!, az!));
    this.camera.near = Math.max(0.005, far / 400);
    this.camera.far = Math.max(2500, far * 20);
    this.camera.updateProjectionMatrix();
    this.camera.updateMatrixWorld();
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
