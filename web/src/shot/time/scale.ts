/** From frames to pixels of the time tracks and back. */
export interface Scale {
  from: number;
  to: number;
  width: number;
}

export const MARGIN = 12;

export const toX = (scale: Scale, frame: number): number =>
  MARGIN + ((frame - scale.from) / Math.max(1e-6, scale.to - scale.from)) * (scale.width - 2 * MARGIN);

export const toFrame = (scale: Scale, x: number): number =>
  scale.from + ((x - MARGIN) / Math.max(1, scale.width - 2 * MARGIN)) * (scale.to - scale.from);

/** A step between ruler marks that leaves room for a timecode. */
export function markStep(scale: Scale, fps: number): number {
  const frames = (96 / Math.max(1, scale.width - 2 * MARGIN)) * (scale.to - scale.from);
  const second = Math.round(fps);
  const steps = [1, 2, 5, 10, ...[1, 2, 5, 10, 15, 30, 60, 120, 300, 600].map((s) => s * second)].sort(
    (a, b) => a - b,
  );
  return steps.find((step) => step >= frames) ?? steps.at(-1)!;
}

/** Zoom by a factor around a frame, within the shot. */
export function zoomed(scale: Scale, frames: number, around: number, by: number): Scale {
  const last = Math.max(1, frames - 1);
  const span = Math.min(last, Math.max(Math.min(8, last), (scale.to - scale.from) * by));
  const share = (around - scale.from) / Math.max(1e-6, scale.to - scale.from);
  const from = Math.max(0, Math.min(last - span, around - share * span));
  return { ...scale, from, to: from + span };
}
