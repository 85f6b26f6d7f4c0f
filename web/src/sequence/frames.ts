/** Pictures of a sequence's frames as they arrive, a few asked for at a time. */
const AT_ONCE = 2;
const MOST = 480;

export class Frames {
  private readonly kept = new Map<number, ImageBitmap>();
  private readonly asked = new Map<number, AbortController>();
  private closed = false;

  constructor(
    private readonly address: (frame: number, how: { onlyKept: boolean; aside: boolean }) => string,
    private readonly arrived: (frame: number) => void,
  ) {}

  get(frame: number): ImageBitmap | undefined {
    return this.kept.get(frame);
  }

  has = (frame: number): boolean => this.kept.has(frame);

  get busy(): boolean {
    return this.asked.size >= AT_ONCE;
  }

  /** Ask for a frame; what is asked for `first` puts off whatever else is under way. */
  async ask(frame: number, { first = false, onlyKept = false, aside = false } = {}): Promise<void> {
    if (this.closed || this.kept.has(frame) || this.asked.has(frame)) return;
    if (first)
      for (const [other, controller] of this.asked) {
        controller.abort();
        this.asked.delete(other);
      }
    else if (this.busy) return;
    const controller = new AbortController();
    this.asked.set(frame, controller);
    try {
      const answer = await fetch(this.address(frame, { onlyKept, aside }), { signal: controller.signal });
      if (!answer.ok || this.closed) return;
      const bitmap = await createImageBitmap(await answer.blob());
      if (this.closed) return bitmap.close();
      this.keep(frame, bitmap);
      this.arrived(frame);
    } catch {
      // Put off, or the server is away: it is asked for again.
    } finally {
      if (this.asked.get(frame) === controller) this.asked.delete(frame);
    }
  }

  private keep(frame: number, bitmap: ImageBitmap): void {
    this.kept.set(frame, bitmap);
    if (this.kept.size > MOST) {
      const [oldest] = this.kept.keys();
      this.kept.get(oldest!)?.close();
      this.kept.delete(oldest!);
    }
  }

  close(): void {
    this.closed = true;
    for (const controller of this.asked.values()) controller.abort();
    for (const bitmap of this.kept.values()) bitmap.close();
    this.kept.clear();
  }
}

/** The first frame from one on, and then from the beginning, that is in no run; none where all are. */
export function nextMissing(runs: [number, number][], total: number, from: number): number | null {
  const covered = (frame: number) => runs.find(([a, b]) => a <= frame && frame <= b);
  for (const [start, end] of [
    [from, total],
    [0, from],
  ] as const) {
    for (let frame = start; frame < end;) {
      const run = covered(frame);
      if (!run) return frame;
      frame = run[1] + 1;
    }
  }
  return null;
}
