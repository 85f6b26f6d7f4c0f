import { createStore, type StoreApi } from "zustand";
import { api, got, Refused, Unreachable, type Schemas } from "../api/client";
import { listen } from "../api/live";
import { say, sayFault } from "../parts/notices";
import { changed } from "./changed";
import { joined, patched, type Edit, type Operation } from "../shot/document/patches";

export type Sequence = Schemas["Sequence"];
export type OpenSequence = Schemas["OpenSequence"];

export interface SequenceState {
  /** The sequence as shown: what the server has, with waiting edits on top. */
  open: OpenSequence | null;
  waiting: number;
  away: boolean;
  fault: string | null;
  /** Grows whenever pictures may have changed: the sequence was edited, or one of its shots. */
  pictures: number;
}

const pause = (): Promise<void> => new Promise((done) => setTimeout(done, 1200));

/** One open sequence: edits show at once and are sent one after the other. */
export class SequenceSession {
  readonly store: StoreApi<SequenceState> = createStore(() => ({
    open: null,
    waiting: 0,
    away: false,
    fault: null,
    pictures: 0,
  }));
  private queue: Edit[] = [];
  private sending = false;
  private closed = false;
  private unlisten: () => void = () => {};
  private idle: (() => void)[] = [];

  constructor(readonly id: string) {}

  open(): void {
    this.closed = false;
    this.unlisten = listen((heard) => {
      if (heard.kind === "sequence" && heard.id === this.id) void this.catchUp(heard.revision ?? 0);
      // Another sequence may lie on this one's line.
      else if (["shot", "sequence", "production", "connected"].includes(heard.kind)) void this.reload();
    });
    void this.reload();
  }

  close(): void {
    this.closed = true;
    this.unlisten();
  }

  /** Change the sequence; edits of one gesture are undone together. */
  edit(patch: Operation[], gesture?: string): void {
    const { open } = this.store.getState();
    if (!open || !patch.length) return;
    let document: Sequence;
    try {
      document = patched(open.document, patch);
    } catch {
      return;
    }
    const last = this.queue.at(-1);
    const together =
      last && !(this.sending && this.queue.length === 1) ? joined(last, { patch, gesture }) : null;
    if (together) this.queue[this.queue.length - 1] = together;
    else this.queue.push({ patch, gesture });
    this.show({ ...open, document, can_undo: true });
    void this.send();
  }

  undo = (): Promise<void> => this.travel("/api/sequences/{sequence}/undo");
  redo = (): Promise<void> => this.travel("/api/sequences/{sequence}/redo");

  /** Resolves once every edit is stored. */
  settled(): Promise<void> {
    return this.queue.length ? new Promise((done) => this.idle.push(done)) : Promise.resolve();
  }

  /** What others changed, or what the core did as a whole, is shown. */
  async reload(): Promise<void> {
    try {
      const open = await got(
        api.GET("/api/sequences/{sequence}", { params: { path: { sequence: this.id } } }),
      );
      if (this.closed || this.queue.length) return;
      // An answer that was overtaken by an edit made meanwhile says nothing new.
      if (open.revision < (this.store.getState().open?.revision ?? -1)) return;
      this.store.setState(({ pictures }) => ({
        open,
        waiting: 0,
        fault: null,
        away: false,
        pictures: pictures + 1,
      }));
    } catch (why) {
      if (why instanceof Unreachable) this.store.setState({ away: true });
      else this.store.setState({ fault: (why as Error).message });
    }
  }

  /** Show what is waiting, laid out anew: where pieces begin follows from how long they are. */
  private show(open: OpenSequence): void {
    const starts = startsOf(open.document);
    this.store.setState({
      open: { ...open, starts, total: totalOf(open.document, starts) },
      waiting: this.queue.length,
    });
  }

  private async catchUp(revision: number): Promise<void> {
    const { open } = this.store.getState();
    if (!this.sending && !this.queue.length && revision > (open?.revision ?? -1)) await this.reload();
  }

  private async travel(
    way: "/api/sequences/{sequence}/undo" | "/api/sequences/{sequence}/redo",
  ): Promise<void> {
    await this.settled();
    const before = this.store.getState().open?.document;
    try {
      await got(api.POST(way, { params: { path: { sequence: this.id } } }));
      await this.reload();
      const after = this.store.getState().open?.document;
      const what = before && after ? changed(before, after) : "";
      if (what) say(`${way.endsWith("undo") ? "Taken back" : "Done again"}: ${what}`);
    } catch (why) {
      sayFault(why);
    }
  }

  private async send(): Promise<void> {
    if (this.sending || this.closed) return;
    this.sending = true;
    while (this.queue.length && !this.closed) {
      const edit = this.queue[0]!;
      try {
        const base = this.store.getState().open!.revision;
        const body = { base, patch: edit.patch, gesture: edit.gesture };
        const { revision } = await got(
          api.POST("/api/sequences/{sequence}/edits", { params: { path: { sequence: this.id } }, body }),
        );
        this.queue.shift();
        const { open } = this.store.getState();
        this.store.setState({ open: { ...open!, revision }, waiting: this.queue.length, away: false });
      } catch (why) {
        if (why instanceof Unreachable || (why instanceof Refused && why.status > 500)) {
          this.store.setState({ away: true });
          await pause();
          continue;
        }
        this.queue = [];
        // What is shown is given up for what the server has.
        const { open } = this.store.getState();
        this.store.setState({ open: { ...open!, revision: -1 }, waiting: 0 });
        if (why instanceof Refused && why.status === 409)
          say("The sequence was changed in another tab; your last change was not kept.");
        else sayFault(why);
      }
    }
    this.sending = false;
    if (!this.closed) await this.reload();
    if (!this.queue.length) for (const done of this.idle.splice(0)) done();
  }
}

/** The frame each piece begins at; the core lays it out the same way. */
export function startsOf(sequence: Sequence): number[] {
  let at = 0;
  return (sequence.line ?? []).map((piece, index) => {
    if (index) at -= overlapOf(piece);
    const start = at;
    at += piece.frames ?? 0;
    return start;
  });
}

export const overlapOf = (piece: Schemas["SequencePiece"]): number =>
  piece.transition?.kind === "cut" ? 0 : (piece.transition?.frames ?? 0);

export function totalOf(sequence: Sequence, starts: number[]): number {
  const ends = (sequence.line ?? []).map((piece, index) => starts[index]! + (piece.frames ?? 0));
  const laid = (sequence.lanes ?? [])
    .filter((lane) => lane.on !== false)
    .flatMap((lane) => (lane.pieces ?? []).map((one) => (one.at ?? 0) + (one.piece?.frames ?? 0)));
  return Math.max(0, ...ends, ...laid);
}
