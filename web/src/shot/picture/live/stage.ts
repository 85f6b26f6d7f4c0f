import * as THREE from "three";
import type { Scene } from "../../document/scene";
import { Display } from "./display";
import { whenDrawn } from "./fence";
import { AroundView } from "./around";
import { Lamps } from "./lamps";
import { Letters } from "./letters";
import { LEVELS, Pace, type Level } from "./pace";
import { Programs } from "./programs";
import { Seen } from "./seen";
import { Shades } from "./shades";

// Milliseconds without a change after which the picture counts as still.
const REST = 220;
// Milliseconds for which the first live picture gives way to the first traced one.
const HOLD = 2000;
// Where a picture that stands still is drawn again, in pixels from where it was: with the four places that the browser
// averages in each, sixteen lie evenly across and down.
const PLACES: [number, number][] = [[-3, -1], [1, -3], [-1, 3], [3, 1]].map(([x, y]) => [x! / 32, y! / 32]);

/**
 * How the live view is looked at: the eye rests on it; passes over it until the traced picture is here, so that it is
 * not drawn finely; or does not see it, so that it is drawn quickly.
 */
export type Gaze = "rests" | "passes" | "elsewhere";

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
  private pose: CameraPose | null = null;
  private readonly display = new Display(() => this.draw());
  private readonly lamps = new Lamps(this.world);
  private readonly around: AroundView;
  private readonly shades: Shades;
  private readonly letters: Letters;
  private readonly programs: Programs;
  readonly seen: Seen;
  private readonly pace = new Pace();
  private box = { width: 1, height: 1 };
  /** Nothing has been drawn yet. */
  private fresh = true;
  private readonly begun = performance.now();
  private resting = 0;
  private refining = 0;
  private detail: Level | "automatic" = "automatic";
  /** Called when bodies of the frame are not here yet. */
  onLacking: (names: string[]) => void = () => {};
  onDrawn: (revision: number, frame: number, level: Level) => void = () => {};
  /** Called when a picture that stands still has been drawn so many times. */
  onRefined: (times: number) => void = () => {};
  private gaze: Gaze = "rests";

  constructor(canvas: HTMLCanvasElement, shot: string) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, powerPreference: "high-performance" });
    this.shades = new Shades(this.renderer);
    this.letters = new Letters(this.world, this.shades, shot, () => this.draw());
    this.seen = new Seen(this.world, this.camera, this.letters.nodes);
    this.around = new AroundView(this.renderer, this.world, shot, () => this.draw());
    this.programs = new Programs(this.renderer, this.world, this.camera, this.display, () => this.draw());
    this.world.matrixAutoUpdate = false;
  }

  dispose(): void {
    cancelAnimationFrame(this.asked);
    clearTimeout(this.resting);
    clearTimeout(this.refining);
    this.refining = 0;
    this.display.dispose();
    this.around.dispose();
    this.letters.dispose();
    this.shades.dispose();
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
    if (gaze !== "elsewhere") this.draw(gaze === "rests");
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
    clearTimeout(this.refining);
    this.refining = 0;
    this.asked ||= requestAnimationFrame((now) => {
      this.asked = 0;
      const level = this.gaze === "elsewhere" || this.fresh ? "quick" : this.detail === "automatic" ? this.pace.level(!resting, now) : this.detail;
      clearTimeout(this.resting);
      const finest = this.detail === "automatic" ? this.pace.level(false, now) : this.detail;
      if (this.gaze === "rests" && !resting && level !== finest) this.resting = window.setTimeout(() => this.draw(true), REST);
      this.drawNow(level);
    });
  }

  private drawNow(level: Level): void {
    const { scene } = this;
    if (!scene) return;
    const frame = scene.clamp(this.frame);
    this.placeCamera(scene, frame);
    const lacking = this.letters.place(scene, frame);
    if (lacking.length) this.onLacking(lacking);
    if (this.fresh && this.holds()) return;
    this.lamps.place(scene, frame);
    this.around.place(scene, frame);
    if (this.fresh && this.around.awaited) return;
    const materials = [...this.letters.nodes.values()].flatMap((node) => node.materials);
    if (!this.programs.ready(materials, Object.values(scene.facts.lights).join())) return;
    this.fresh = false;
    const { ratio, samples, taps, side } = LEVELS[level];
    this.fit(ratio(window.devicePixelRatio));
    this.shades.place(scene, frame, this.letters.nodes, this.camera, taps, side);
    this.display.through(scene.facts.view);
    const exposure = 2 ** scene.at("camera/exposure", frame)[0]!;
    this.drawOnce(exposure, samples, 0);
    whenDrawn(this.renderer, (milliseconds, now) => this.pace.took(level, milliseconds, now));
    this.onDrawn(scene.revision, frame, level);
    if (level === "fine" && this.gaze === "rests") this.refining = window.setTimeout(() => this.refine(exposure, samples, 1), REST);
  }

  /** The first traced picture is on its way: to begin drawing now would hold up both. */
  private holds(): boolean {
    const left = this.begun + HOLD - performance.now();
    if (this.gaze !== "passes" || left <= 0) return false;
    clearTimeout(this.resting);
    this.resting = window.setTimeout(() => this.draw(), left);
    return true;
  }

  private drawOnce(exposure: number, samples: number, time: number): void {
    const { width, height } = this.renderer.getDrawingBufferSize(new THREE.Vector2());
    const [x, y] = PLACES[time]!;
    this.camera.setViewOffset(width, height, x, y, width, height);
    this.shades.spin(time / PLACES.length);
    this.display.show(this.renderer, this.world, this.camera, exposure, samples, time);
    this.camera.clearViewOffset();
  }

  /** Draw the picture once more and average, until something changes. */
  private refine(exposure: number, samples: number, time: number): void {
    if (this.gaze !== "rests" || this.asked || time >= PLACES.length) return;
    this.drawOnce(exposure, samples, time);
    const { refining } = this;
    whenDrawn(this.renderer, () => {
      if (!refining || refining !== this.refining) return;
      this.onRefined(time + 1);
      this.refining = window.setTimeout(() => this.refine(exposure, samples, time + 1), 0);
    });
  }

  private fit(ratio: number): void {
    const { width, height } = this.box;
    const { width: w, height: h } = this.renderer.domElement;
    if (w === Math.floor(width * ratio) && h === Math.floor(height * ratio)) return;
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(width, height, false);
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
