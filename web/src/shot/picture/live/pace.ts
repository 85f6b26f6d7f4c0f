/** How finely the live view is drawn. */
export type Level = "fine" | "plain" | "quick";

export interface Drawing {
  /** Pixels a pixel of the page, of those the screen has at most. */
  ratio: (screen: number) => number;
  /** Places a pixel that are averaged; 0 for one alone. */
  samples: number;
  /** Places at which the edge of a shadow is looked at, and pixels on a side of what lights see. */
  taps: number;
  side: number;
}

export const LEVELS: Record<Level, Drawing> = {
  fine: { ratio: (screen) => Math.min(screen, 2), samples: 4, taps: 32, side: 2048 },
  plain: { ratio: (screen) => Math.min(screen, 1), samples: 0, taps: 12, side: 1024 },
  quick: { ratio: () => 0.5, samples: 0, taps: 3, side: 512 },
};

export const DOWN: Level[] = ["fine", "plain", "quick"];

// A picture in movement may take this long, one that stands still that long, in milliseconds.
const MOVING = 40;
const STILL = 800;
// So many pictures of a level are looked at.
const COUNTED = 3;
// After so long a level that was too slow is tried again.
const FORGET = 10_000;

/** Chooses the finest level that keeps up, from how long pictures have taken to draw. */
export class Pace {
  private readonly known = new Map<Level, { took: number[]; at: number }>();

  /** A picture of a level took so long, from the call until it was drawn. */
  took(level: Level, milliseconds: number, now: number): void {
    this.known.set(level, { took: [...(this.known.get(level)?.took.slice(1 - COUNTED) ?? []), milliseconds], at: now });
  }

  level(moving: boolean, now: number): Level {
    const fits = (level: Level) => {
      const found = this.known.get(level);
      // Single pictures take long because something is made ready; only a row of slow ones says that a level is too slow.
      return !found || found.took.length < COUNTED || Math.min(...found.took) <= (moving ? MOVING : STILL) || now - found.at > FORGET;
    };
    return DOWN.find(fits) ?? "quick";
  }
}
