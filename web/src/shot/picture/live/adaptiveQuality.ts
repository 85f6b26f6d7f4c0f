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
const STILL = 4000;
// So many pictures of a level are looked at: single ones take long because something is made ready.
const COUNTED = 3;
// A level takes about so many times as long as the one below it.
const DEARER = 4;
// After so long it is not known any more whether a level is too slow.
const FORGET = 10_000;

/** Chooses the finest level that keeps up, from how long pictures have taken to draw. */
export class Pace {
  private readonly known = new Map<Level, { took: number[]; at: number }>();

  /** A picture of a level took so long, from the call until it was drawn. */
  took(level: Level, milliseconds: number, now: number): void {
    this.known.set(level, {
      took: [...(this.known.get(level)?.took.slice(1 - COUNTED) ?? []), milliseconds],
      at: now,
    });
  }

  /** Milliseconds that a picture of a level is likely to take: as lately, or as the level below it tells. */
  expected(level: Level, now: number): number {
    const found = this.known.get(level);
    const below = DOWN[DOWN.indexOf(level) + 1];
    if (found && (now - found.at <= FORGET || !below)) return Math.min(...found.took);
    return below ? DEARER * this.expected(below, now) : 0;
  }

  /** The finest level that keeps up; at rest one finds out. */
  level(moving: boolean, now: number): Level {
    const fits = (level: Level) =>
      moving
        ? this.expected(level, now) <= MOVING
        : Math.min(...(this.known.get(level)?.took ?? [0])) <= STILL;
    return DOWN.find(fits) ?? "quick";
  }
}
