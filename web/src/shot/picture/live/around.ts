import * as THREE from "three";
import { gotBytes } from "../../../api/client";
import { unpack } from "../../../api/block";
import type { Scene } from "../../document/scene";

interface Loaded {
  picture: THREE.DataTexture;
  /** The same, prefiltered for every roughness. */
  filtered?: THREE.Texture;
}

// Panoramas kept at once.
const MOST = 24;
/** Frames of a backdrop that are kept, and of a plate that are fetched before they are needed. */
const MOST_HELD = 96;
const AHEAD = 12;
/** Of a plate comes its light over so much, as above white there is more. */
export const PLATE_WHITE = 2.5;

/** What is all around, and what is seen behind. */
export class AroundView {
  private readonly loaded = new Map<string, Promise<Loaded>>();
  private readonly pictures = new Map<string, THREE.Texture>();
  private gradient: THREE.DataTexture | null = null;
  private mirrored: string | null = null;
  private behind: string | null = null;
  /** What is to be mirrored from the next picture on. */
  private arrived: Loaded | null = null;
  /** The first surroundings are still on their way. */
  awaited = true;

  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    private readonly world: THREE.Scene,
    private readonly shot: string,
    private readonly redraw: () => void,
  ) {}

  dispose(): void {
    for (const one of this.loaded.values()) void one.then(drop);
    for (const one of this.pictures.values()) one.dispose();
    this.gradient?.dispose();
  }

  place(scene: Scene, frame: number): void {
    const { world } = this;
    const strength = scene.at("surroundings/strength", frame)[0]!;
    world.environmentIntensity = world.backgroundIntensity = strength;
    const degrees = (name: string) => THREE.MathUtils.degToRad(scene.at(`surroundings/${name}`, frame)[0]!);
    world.environmentRotation.set(degrees("tilt"), degrees("rotation"), 0);
    world.backgroundRotation.copy(world.environmentRotation);
    const number = scene.at("surroundings/around", frame)[0]!;
    const query = scene.facts.around[number]!;
    if (this.mirrored !== query) {
      this.mirrored = query;
      void this.load(query)
        .then((found) => {
          if (this.mirrored === query) this.arrived = found;
        })
        .finally(() => {
          this.awaited = false;
          this.redraw();
        });
    }
    if (this.arrived) {
      this.arrived.filtered ??= filter(this.renderer, this.arrived.picture);
      world.environment = this.arrived.filtered;
      this.arrived = null;
    }
    this.placeBehind(scene, frame, scene.facts.around_behind[number]!);
  }

  private placeBehind(scene: Scene, frame: number, query: string): void {
    const { world } = this;
    const { behind, behind_key } = scene.facts;
    const [r, g, b] = scene.at("backdrop", frame);
    this.renderer.setClearColor(new THREE.Color().setRGB(r!, g!, b!, THREE.LinearSRGBColorSpace), 1);
    if (behind === "gradient") {
      world.backgroundIntensity = 1;
      world.background = this.gradientOf(scene.at("backdrop", frame), scene.at("backdrop/second", frame));
      this.behind = null;
    } else if (behind === "surroundings") {
      if (this.behind === query) return;
      this.behind = query;
      void this.load(query).then((found) => {
        if (this.behind !== query) return;
        world.background = found.picture;
        this.redraw();
      });
    } else if (behind === "picture" || behind === "video") {
      world.backgroundIntensity = 1;
      this.behind = behind_key;
      const texture = this.backdropOf(behind_key, behind === "video" ? scene.clamp(frame) : 0);
      // Until the frame of a video is here the last one stays.
      if (texture.image || !world.background) world.background = texture;
    } else if (behind === "plate") {
      world.backgroundIntensity = PLATE_WHITE;
      this.behind = behind_key;
      const now = scene.clamp(frame);
      const texture = this.plateOf(behind_key, now);
      for (let next = now + 1; next <= Math.min(now + AHEAD, scene.facts.frames - 1); next++)
        this.plateOf(behind_key, next);
      if (texture.image || !world.background) world.background = texture;
    } else {
      world.background = null;
      this.behind = null;
    }
  }

  private plateOf(key: string, frame: number): THREE.Texture {
    return this.textureOf(`${key} ${frame}`, `/api/shots/${this.shot}/plate/frame?frame=${frame}&as=${key}`);
  }

  private backdropOf(key: string, frame: number): THREE.Texture {
    return this.textureOf(`${key} ${frame}`, `/api/shots/${this.shot}/backdrop?frame=${frame}&as=${key}`);
  }

  private textureOf(name: string, address: string): THREE.Texture {
    let texture = this.pictures.get(name);
    if (!texture) {
      texture = new THREE.TextureLoader().load(address, this.redraw);
      texture.colorSpace = THREE.SRGBColorSpace;
      this.pictures.set(name, texture);
      for (const [old, held] of this.pictures) {
        if (this.pictures.size <= MOST_HELD) break;
        if (held === this.world.background) continue;
        held.dispose();
        this.pictures.delete(old);
      }
    }
    return texture;
  }

  private gradientOf(below: ArrayLike<number>, above: ArrayLike<number>): THREE.Texture {
    this.gradient ??= new THREE.DataTexture(
      new Float32Array(256 * 4),
      1,
      256,
      THREE.RGBAFormat,
      THREE.FloatType,
    );
    const { data } = this.gradient.image as { data: Float32Array };
    for (let i = 0; i < 256; i++) {
      const share = (i + 0.5) / 256;
      for (let c = 0; c < 3; c++) data[i * 4 + c] = below[c]! * (1 - share) + above[c]! * share;
      data[i * 4 + 3] = 1;
    }
    this.gradient.colorSpace = THREE.LinearSRGBColorSpace;
    this.gradient.magFilter = this.gradient.minFilter = THREE.LinearFilter;
    this.gradient.needsUpdate = true;
    return this.gradient;
  }

  private load(query: string): Promise<Loaded> {
    let found = this.loaded.get(query);
    if (!found) {
      found = fetchPicture(query).then((picture) => ({ picture }));
      this.loaded.set(query, found);
      for (const [name, old] of this.loaded) {
        if (this.loaded.size <= MOST) break;
        if (name === this.mirrored || name === this.behind || name === query) continue;
        this.loaded.delete(name);
        void old.then(drop);
      }
    }
    return found;
  }
}

function drop(loaded: Loaded): void {
  loaded.picture.dispose();
  loaded.filtered?.dispose();
}

function filter(renderer: THREE.WebGLRenderer, picture: THREE.DataTexture): THREE.Texture {
  const generator = new THREE.PMREMGenerator(renderer);
  const { texture } = generator.fromEquirectangular(picture);
  generator.dispose();
  return texture;
}

async function fetchPicture(query: string): Promise<THREE.DataTexture> {
  const { arrays } = unpack(await gotBytes(`/api/surroundings?${query}`));
  const { shape, data } = arrays.get("picture")!;
  const [rows, columns] = shape as [number, number];
  // The core looks towards -z in column 0; three's equirectangular mapping looks towards +x there,
  // upside down. Turned by a quarter and flipped, both mean the same.
  const rgba = new Float32Array(rows * columns * 4);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const from = (row * columns + column) * 3;
      const to = ((rows - 1 - row) * columns + aroundColumn(column, columns)) * 4;
      for (let c = 0; c < 3; c++) rgba[to + c] = data[from + c]!;
      rgba[to + 3] = 1;
    }
  }
  const picture = new THREE.DataTexture(rgba, columns, rows, THREE.RGBAFormat, THREE.FloatType);
  picture.mapping = THREE.EquirectangularReflectionMapping;
  picture.colorSpace = THREE.LinearSRGBColorSpace;
  picture.minFilter = picture.magFilter = THREE.LinearFilter;
  picture.needsUpdate = true;
  return picture;
}

/** Column of three's picture for a column of the core's (azimuth from -z towards +x). */
function aroundColumn(column: number, columns: number): number {
  // three: u = atan2(z, x) / 2π + ½. A direction (sin a, 0, -cos a) of azimuth a has atan2(-cos a, sin a) =
  // a - π/2.
  return (((column + columns / 4) % columns) + columns) % columns;
}
