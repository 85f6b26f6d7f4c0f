import type * as THREE from "three";
import { whenDrawn } from "./fence";

// Milliseconds that one strip may take, and strips at most.
const STRIP = 30;
const MOST = 24;

/**
 * A picture that can be drawn in strips, again and again from other places, each time averaged with those
 * before.
 */
export interface Painting {
  times: number;
  /** Draw what lies between two heights, from 0 to 1. */
  part: (time: number, low: number, high: number) => void;
  /** All of it is drawn: show it. */
  show: (time: number) => void;
  /** Once took so long. */
  took: (milliseconds: number) => void;
}

/** Draws a picture that stands still, strip by strip: what comes meanwhile waits for one strip only. */
export class Rest {
  private current: Painting | null = null;

  constructor(private readonly renderer: THREE.WebGLRenderer) {}

  stop(): void {
    this.current = null;
  }

  /** Draw from the `first` time on, if each takes about so many milliseconds. */
  paint(painting: Painting, first: number, milliseconds: number, whole: boolean): void {
    this.current = painting;
    const strips = (took: number) => (whole ? 1 : Math.max(1, Math.min(MOST, Math.ceil(took / STRIP))));
    const draw = (time: number, strip: number, of: number, took: number): void => {
      painting.part(time, strip / of, (strip + 1) / of);
      whenDrawn(this.renderer, (lasted) => {
        if (this.current !== painting) return;
        if (strip + 1 < of) return draw(time, strip + 1, of, took + lasted);
        painting.show(time);
        painting.took(took + lasted);
        if (time + 1 < painting.times) draw(time + 1, 0, strips(took + lasted), 0);
      });
    };
    if (first < painting.times) draw(first, 0, strips(milliseconds), 0);
  }
}
