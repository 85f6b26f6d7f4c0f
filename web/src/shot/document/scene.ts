import { gotBytes, type Schemas } from "../../api/client";
import { unpack, type NamedArray } from "../../api/block";

/**
 * A body of a title: its name, the piece it stands where and how far before that, the character it comes
 * from, its finish.
 */
export interface Letter {
  body: string;
  piece: number;
  shift: number;
  source: number;
  finish: number;
  /** Its place among the letters of all forms of its title. */
  index: number;
}

type SceneFacts = Schemas["SceneFacts"];
export type LightKind = SceneFacts["lights"][string];

/** One letter's mesh; `ends` are the last triangles of face, bevel, wall, back. */
export interface LetterBody {
  position: Float32Array;
  normal: Float32Array;
  triangles: Uint32Array;
  uv?: Float32Array;
  ends: number[];
  low: [number, number, number];
  high: [number, number, number];
}

/**
 * A shot evaluated over its frames by the core, a long one over those around the present; the browser only
 * plays it back.
 */
export class Scene {
  constructor(
    readonly facts: SceneFacts,
    private readonly arrays: Map<string, NamedArray>,
  ) {}

  get revision(): number {
    return this.facts.revision;
  }

  clamp(frame: number): number {
    return Math.max(0, Math.min(this.facts.frames - 1, Math.round(frame)));
  }

  /** The numbers of a named array at a frame. */
  at(name: string, frame: number): Float32Array | Uint32Array {
    const { shape, data } = this.arrays.get(name)!;
    const size = data.length / shape[0]!;
    const start = this.row(frame, shape[0]!) * size;
    return data.subarray(start, start + size);
  }

  /** The numbers of a named array at a time between two frames. */
  between(name: string, time: number): Float32Array {
    const from = Math.floor(time);
    const a = this.at(name, from) as Float32Array;
    const b = this.at(name, from + 1);
    if (time === from || a.byteOffset === b.byteOffset) return a;
    return a.map((value, i) => value + (b[i]! - value) * (time - from));
  }

  /** Where a frame is among the rows of an array: what stays as it is has only one. */
  private row(frame: number, rows: number): number {
    return Math.max(0, Math.min(rows - 1, this.clamp(frame) - this.facts.first));
  }

  /** Whether a frame is evaluated, and some more after it. */
  covers(frame: number): boolean {
    const { first, count, run_end } = this.facts;
    const ahead = Math.min(run_end - 1, this.clamp(frame) + Math.floor(count / 8));
    const at = this.clamp(frame);
    return at >= first && at < first + count && ahead < first + count;
  }

  /** Two numbers of a named array at a frame. */
  pair(name: string, frame: number): [number, number] {
    const [a = 0, b = 0] = this.at(name, frame);
    return [a, b];
  }

  /** Three numbers of a named array at a frame. */
  triple(name: string, frame: number): [number, number, number] {
    const [a = 0, b = 0, c = 0] = this.at(name, frame);
    return [a, b, c];
  }

  names(): string[] {
    return [...this.arrays.keys()];
  }

  has(name: string): boolean {
    return this.arrays.has(name);
  }

  /** A keyed value at a frame; undefined where it has no keys. */
  valueAt(pointer: string, frame: number): number | undefined {
    const known = this.arrays.get(`channel${pointer}`);
    return known?.data[Math.max(0, Math.min(known.data.length - 1, this.clamp(frame) - this.channelFrom))];
  }

  /** A keyed value over time, from `channelFrom` on; undefined where it has no keys. */
  channel(pointer: string): Float32Array | undefined {
    return this.arrays.get(`channel${pointer}`)?.data as Float32Array | undefined;
  }

  /** The first frame that keyed values are known of: that of the shot, unless there are too many. */
  get channelFrom(): number {
    return this.facts.channels_first;
  }

  /** Every row of an array. */
  all(name: string): Float32Array {
    return this.arrays.get(name)!.data as Float32Array;
  }

  /** The letters of a title at a frame; the same list as long as the form is the same. */
  letters(title: string, frame: number): Letter[] {
    const forms = this.facts.titles[title]?.forms ?? [];
    const number = Math.min(this.at(`title/${title}/form`, frame)[0] ?? 0, forms.length - 1);
    const known = `${title}/${number}`;
    let made = this.made.get(known);
    if (!made) {
      const { start, bodies, pieces, shifts, sources, finishes } = forms[number] ?? {
        start: 0,
        bodies: [],
        pieces: [],
        shifts: [],
        sources: [],
        finishes: [],
      };
      made = bodies.map((body, i) => ({
        body,
        piece: pieces[i]!,
        shift: shifts[i]!,
        source: sources[i]!,
        finish: finishes[i]!,
        index: start + i,
      }));
      this.made.set(known, made);
    }
    return made;
  }

  /** Where the pieces of a title stand in it at a frame: three rows of four numbers each. */
  poses(title: string, frame: number): Float32Array {
    return this.at(`title/${title}/poses`, frame) as Float32Array;
  }

  private readonly made = new Map<string, Letter[]>();
}

/**
 * The row-major matrix of a letter among the poses of its title; put into `into` where there is one
 * already.
 */
export function letterMatrix(
  poses: Float32Array,
  { piece, shift }: Letter,
  into: number[] | Float32Array = new Float32Array(16),
): number[] | Float32Array {
  const at = piece * 12;
  for (let i = 0; i < 12; i++) into[i] = poses[at + i]!;
  into[3]! += poses[at + 2]! * shift;
  into[7]! += poses[at + 6]! * shift;
  into[11]! += poses[at + 10]! * shift;
  into[12] = into[13] = into[14] = 0;
  into[15] = 1;
  return into;
}

export const isFloor = (scene: Scene, title: string): boolean =>
  scene.facts.titles[title]!.forms[0]?.bodies[0]?.startsWith("floor-") ?? false;

const bodies = new Map<string, LetterBody>();
export const MOST_BODIES = 3000;

export const bodyOf = (name: string): LetterBody | undefined => bodies.get(name);

function sceneOf(buffer: ArrayBuffer): Scene {
  const { facts, arrays } = unpack<SceneFacts & { ends: Ends }>(buffer);
  keepBodies(facts.ends, arrays);
  return new Scene(facts, arrays);
}

export async function fetchScene(shot: string, around: number, signal: AbortSignal): Promise<Scene> {
  return sceneOf(await gotBytes(`/api/shots/${shot}/scene?around=${around}`, { signal }));
}

/** Send an edit; the answer is what the core makes of the shot after it. */
export async function sendEdit(shot: string, edit: Schemas["EditWish"], around: number): Promise<Scene> {
  const init = {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(edit),
  };
  return sceneOf(await gotBytes(`/api/shots/${shot}/edits?scene=true&around=${around}`, init));
}

/** How the shot would be with a movement. */
export const fetchTrial = (shot: string, wish: Schemas["MotionWish"]): Promise<Scene> =>
  triedOut(shot, "motions", wish);

/** How the shot would be with a look. */
export const fetchLookTrial = (shot: string, wish: Schemas["PictureLookWish"]): Promise<Scene> =>
  triedOut(shot, "picture-looks", wish);

async function triedOut(shot: string, what: string, wish: unknown): Promise<Scene> {
  const init = {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(wish),
  };
  return sceneOf(await gotBytes(`/api/shots/${shot}/${what}/trial`, init));
}

/** Names of the bodies that a scene shows first. */
export const firstBodies = (scene: Scene): string[] =>
  Object.keys(scene.facts.titles).flatMap((title) => scene.letters(title, 0).map((letter) => letter.body));

/** Fetch the bodies that letters name and that are not here yet; true when any came. */
export async function fetchBodies(names: Iterable<string>, signal?: AbortSignal): Promise<boolean> {
  const lacking = [...new Set(names)].filter((name) => !bodies.has(name));
  if (!lacking.length) return false;
  for (let i = 0; i < lacking.length; i += 800) {
    const body = JSON.stringify({ names: lacking.slice(i, i + 800) });
    const buffer = await gotBytes("/api/bodies", {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body,
      signal,
    });
    const { facts, arrays } = unpack<{ ends: Ends }>(buffer);
    keepBodies(facts.ends, arrays);
  }
  return true;
}

type Ends = Record<string, number[]>;

function keepBodies(ends: Ends, arrays: Map<string, NamedArray>): void {
  for (const [name, parts] of Object.entries(ends)) {
    const position = arrays.get(`${name}/position`)!.data as Float32Array;
    bodies.set(name, {
      position,
      normal: arrays.get(`${name}/normal`)!.data as Float32Array,
      triangles: arrays.get(`${name}/triangles`)!.data as Uint32Array,
      uv: arrays.get(`${name}/uv`)?.data as Float32Array | undefined,
      ends: parts,
      ...extent(position),
    });
  }
  for (const name of bodies.keys()) {
    if (bodies.size <= MOST_BODIES) break;
    bodies.delete(name);
  }
}

function extent(position: Float32Array): Pick<LetterBody, "low" | "high"> {
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < position.length; i++) {
    const axis = i % 3;
    const value = position[i]!;
    if (value < low[axis]!) low[axis] = value;
    if (value > high[axis]!) high[axis] = value;
  }
  return { low, high };
}
