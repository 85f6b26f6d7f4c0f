import { create } from "zustand";
import type { Schemas } from "../api/client";
import { DOWN, type Level } from "./picture/live/adaptiveQuality";

/** What is pointed at: a thing by its id, or one of the parts every shot has. */
export type Pointed =
  | { thing: string; part?: string; source?: number }
  | `sound:${string}`
  | `camera:${string}`
  | "camera"
  | "surroundings"
  | "backdrop"
  | "optics"
  | "plate"
  | "shot";

/** The address below which the values of what is pointed at lie. */
export function addressOf(pointed: Pointed): string {
  if (typeof pointed !== "string") return `/things/${pointed.thing}`;
  if (pointed.startsWith("sound:")) return `/sounds/${pointed.slice(6)}`;
  if (pointed.startsWith("camera:")) return `/cameras/${pointed.slice(7)}`;
  return pointed === "shot" ? "" : `/${pointed}`;
}

export const samePointed = (a: Pointed, b: Pointed): boolean => addressOf(a) === addressOf(b);

export const SHOWS = ["picture", "clipping", "false colour", "albedo", "normal", "depth", "parts"] as const;
export type Show = (typeof SHOWS)[number];

/** How much of a title moves by itself when it is dragged. */
export type Single = "title" | "line" | "word" | "letter";

export interface ChosenKey {
  pointer: string;
  frame: number;
}

export interface View {
  frame: number;
  playing: boolean;
  loop: boolean;
  /** First and last frame that are played; all of them without. */
  range: [number, number] | null;
  /** How fast it plays: 1 is the shot's own rate. */
  pace: number;
  /** Back again after the end, where it loops. */
  toAndFro: boolean;
  traced: boolean;
  /** What of the traced picture is shown. */
  show: Show;
  /** Whether the frames that follow are traced while nobody waits. */
  ahead: boolean;
  /** Size of traced pictures, in pixels. */
  tracedSize: [number, number] | null;
  /**
   * Where the wipe stands, from 0 to 1, and the picture left of it with its name; without one the live view
   * is.
   */
  wipe: { at: number; kept: string | null; name?: string } | null;
  /**
   * The part of the picture that is traced alone: left, top, width, height from 0 to 1; "choose" while it
   * is drawn.
   */
  region: Region | "choose" | null;
  plot: boolean;
  pointed: Pointed;
  /** Title whose words are being typed in the picture. */
  typing: string | null;
  chosen: ChosenKey[];
  /** Keys that can be pasted. */
  copied: ChosenKey[];
  /** Whether every change of a value sets a key at the present frame. */
  recording: boolean;
  unfolded: Set<string>;
  /** How tall strands are that were made taller, in pixels, by the pointer of their value. */
  strands: Record<string, number>;
  /** Rows whose strands lie over one another. */
  overlaid: Set<string>;
  delivering: boolean;
  single: Single;
  /** What lies over the picture to be worked on: an outline being drawn, a picture being traced. */
  surface:
    | { kind: "draw"; thing: string; at: string; line?: boolean }
    | { kind: "trace"; picture: Schemas["Picture"]; name: string; brought: File }
    | null;
  /** What is being picked in the picture of a plate. */
  picking: Picking | null;
  /** The thing that is to stand where one points in a plate. */
  standing: string | null;
  /** Focal length in millimetres that the plate is known to have been filmed with. */
  focal: number | null;
  /** Whether the points of a plate are drawn. */
  points: boolean;
  /** Whether the picture and its plate alone are shown in turn. */
  swaps: boolean;
  /** Whether gaps between letters can be dragged in the picture. */
  kerning: boolean;
  /** Spot of the picture that was asked about, from 0 to 1 from the top left. */
  asked: { x: number; y: number } | null;
  /** A picture has been shown: what it did not need is asked for after it. */
  shown: boolean;
  /** Names of what is drawn over the picture to compose by. */
  guides: string[];
  /** How finely the live view is drawn. */
  detail: Level | "automatic";
}

/** What picks in the picture of a plate are for. */
export type Picking =
  | "ground"
  | "box"
  | "horizon"
  | "origin"
  | "distance"
  | "direction"
  | "stand"
  | "line"
  | "far"
  | "wall"
  | "spot"
  | "corners"
  | "sun"
  | "shadow"
  | "crate"
  | "rectangle"
  | "edges"
  | "points"
  | "patch"
  | "cover";

export type Region = [number, number, number, number];

const DETAIL = "dreizack.detail";
const VIEW = "dreizack.view";
const GUIDES = "dreizack.guides";

const FRESH: View = {
  frame: 0,
  playing: false,
  loop: true,
  range: null,
  pace: 1,
  toAndFro: false,
  traced: false,
  show: "picture",
  ahead: false,
  tracedSize: null,
  wipe: null,
  region: null,
  plot: true,
  pointed: "shot",
  typing: null,
  chosen: [],
  copied: [],
  recording: false,
  unfolded: new Set(),
  strands: {},
  overlaid: new Set(),
  delivering: false,
  single: "title",
  picking: null,
  standing: null,
  focal: null,
  points: true,
  swaps: false,
  kerning: false,
  surface: null,
  asked: null,
  shown: false,
  guides: [],
  detail: "automatic",
};

/** How one looks at the shot; nothing of it is stored in the shot. */
export const useView = create<View>(() => FRESH);

export const look = (change: Partial<View>): void => useView.setState(change);

export function freshView(): void {
  useView.setState({
    ...FRESH,
    unfolded: new Set(),
    strands: {},
    overlaid: new Set(),
    detail: keptDetail(),
    guides: keptGuides(),
    traced: localStorage.getItem(VIEW) === "traced",
  });
}

/** Kept by the browser: the next shot opens as one looked at the last. */
export function chooseView(traced: boolean): void {
  look({ traced });
  localStorage.setItem(VIEW, traced ? "traced" : "live");
}

/** Kept by the browser: it says something of the machine, nothing of the shot. */
export function chooseDetail(detail: View["detail"]): void {
  look({ detail });
  localStorage.setItem(DETAIL, detail);
}

/** Kept by the browser, for all shots. */
export function chooseGuides(guides: string[]): void {
  look({ guides });
  localStorage.setItem(GUIDES, JSON.stringify(guides));
}

function keptGuides(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(GUIDES) ?? "[]");
    return Array.isArray(kept) ? kept.filter((one) => typeof one === "string") : [];
  } catch {
    return [];
  }
}

function keptDetail(): View["detail"] {
  const kept = localStorage.getItem(DETAIL);
  return DOWN.find((level) => level === kept) ?? "automatic";
}

export function point(pointed: Pointed): void {
  useView.setState({ pointed });
}

/**
 * For what is only there once the core has answered: points at it then, unless something else was pointed at
 * in the meantime.
 */
export function pointLater(): (pointed: Pointed) => void {
  const before = useView.getState().pointed;
  return (pointed) => {
    if (useView.getState().pointed === before) point(pointed);
  };
}

export function toggleRow(row: string): void {
  useView.setState(({ unfolded }) => {
    const next = new Set(unfolded);
    if (!next.delete(row)) next.add(row);
    return { unfolded: next };
  });
}

/** Lay the strands of a row over one another, or one below the other. */
export function overlay(key: string): void {
  useView.setState(({ overlaid }) => {
    const next = new Set(overlaid);
    if (!next.delete(key)) next.add(key);
    return { overlaid: next };
  });
}
