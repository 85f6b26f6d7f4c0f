import { createStore, type StoreApi } from "zustand";
import { api, got, Refused, Unreachable } from "../../api/client";
import { listen } from "../../api/live";
import { say, sayFault } from "../../parts/notices";
import { joined, patched, rebased, type Edit, type Operation, type Shot } from "./patches";
import { recorded } from "./recording";
import { fetchBodies, fetchScene, firstBodies, sendEdit, type Scene } from "./scene";

export interface SessionState {
  /** The shot as shown: what the server has, with waiting edits on top. */
  shot: Shot | null;
  production: { id: string; name: string } | null;
  revision: number;
  scene: Scene | null;
  canUndo: boolean;
  canRedo: boolean;
  /** How often bodies have arrived that a frame was lacking. */
  arrived: number;
  /** Edits not yet acknowledged. */
  waiting: number;
  away: boolean;
  /** Edits wait because the disk of the server is full. */
  full: boolean;
  fault: string | null;
  /** What undo or redo did last. */
  travelled: { back: boolean; before: Shot; after: Shot } | null;
}

const EMPTY: SessionState = {
  shot: null,
  production: null,
  revision: -1,
  scene: null,
  arrived: 0,
  canUndo: false,
  canRedo: false,
  waiting: 0,
  away: false,
  full: false,
  fault: null,
  travelled: null,
};

/** Whether an answer says that the server, its database or its disk cannot do it now, but may later. */
const isAway = (why: unknown): boolean =>
  why instanceof Unreachable || (why instanceof Refused && why.status > 500);
const pause = (): Promise<void> => new Promise((done) => setTimeout(done, 1200));

/** Whether an edit adds something whose other values the core fills in. */
const bringsNew = ({ patch }: Edit): boolean =>
  patch.some(
    (o) =>
      (o.op === "add" && typeof o.value === "object" && !o.path.startsWith("/channels")) ||
      // What was said of single letters moves with them.
      (o.op === "replace" && WORDS.test(o.path)),
  );
const WORDS = /^\/things\/[^/]+\/words$/;

/**
 * One open shot. Edits show at once, are sent one after the other, and are put on top of what
 * others changed in between; nothing typed is lost while the server is away.
 */
export class Session {
  readonly store: StoreApi<SessionState> = createStore(() => EMPTY);
  private base: Shot | null = null;
  private queue: Edit[] = [];
  private sending = false;
  private incomplete = false;
  private completing = false;
  private readonly afterwards: (() => void)[] = [];
  private heard = -1;
  private closed = false;
  private unlisten: () => void = () => {};
  private fetching: AbortController | null = null;
  private outdated = false;
  /** The frame that is looked at. */
  private around = 0;
  private idle: (() => void)[] = [];
  /** The shot's own scene, while one that is tried out is shown in its place. */
  private own: Scene | null = null;

  /** While recording: the frame at which a change of a value sets a key, and which values may have one. */
  records: { frame: () => number; may: (pointer: string) => boolean } | null = null;

  constructor(readonly id: string) {}

  open(): void {
    this.closed = false;
    this.unlisten = listen((heard) => {
      if (heard.kind === "shot" && heard.id === this.id) {
        this.heard = Math.max(this.heard, heard.revision ?? 0);
        void this.catchUp();
      } else if (heard.kind === "connected" && this.base) void this.reload();
    });
    void this.reload();
  }

  close(): void {
    this.closed = true;
    this.unlisten();
    this.fetching?.abort();
  }

  /** Change the shot; edits of one gesture are undone together. */
  edit(patch: Operation[], gesture?: string): void {
    const now = this.store.getState().shot;
    if (!now || !patch.length) return;
    if (this.records) patch = patch.flatMap((one) => recorded(now, one, this.records!));
    let shot: Shot;
    try {
      shot = patched(now, patch);
    } catch {
      // Something new is not whole yet: as soon as the core has filled it in, the edit will fit.
      if (this.incomplete || this.completing || this.queue.some(bringsNew)) {
        this.afterwards.push(() => this.edit(patch, gesture));
        this.store.setState({ waiting: this.pending });
      }
      return;
    }
    const last = this.queue.at(-1);
    // The first of the queue may be on its way already; only later ones can still be joined.
    const together =
      last && !(this.sending && this.queue.length === 1) ? joined(last, { patch, gesture }) : null;
    if (together) this.queue[this.queue.length - 1] = together;
    else this.queue.push({ patch, gesture });
    this.store.setState({ shot, waiting: this.pending, canUndo: true });
    void this.send();
  }

  async undo(): Promise<void> {
    await this.travel("/api/shots/{shot}/undo");
  }

  /** Ask the core for an edit that it offers whole; true once it is done. */
  async offered(ask: () => Promise<unknown>): Promise<boolean> {
    await this.settled();
    try {
      await ask();
      return true;
    } catch (why) {
      sayFault(why);
      return false;
    }
  }

  async redo(): Promise<void> {
    await this.travel("/api/shots/{shot}/redo");
  }

  /** Edits on their way, and those that wait for something new to be whole. */
  private get pending(): number {
    return this.queue.length + this.afterwards.length;
  }

  /** Resolves once every edit is stored. */
  settled(): Promise<void> {
    return this.pending ? new Promise((done) => this.idle.push(done)) : Promise.resolve();
  }

  /** Resolves once the scene of the newest revision is here (or after a while without one). */
  drawnUp(): Promise<void> {
    const ready = ({ waiting, scene, revision }: SessionState) =>
      waiting === 0 && scene?.revision === revision;
    if (ready(this.store.getState())) return Promise.resolve();
    return new Promise((done) => {
      const finish = () => {
        clearTimeout(timer);
        stop();
        done();
      };
      const timer = setTimeout(finish, 4000);
      const stop = this.store.subscribe((state) => ready(state) && finish());
    });
  }

  /** The frame that is looked at: of a long shot, what lies around it is fetched. */
  lookAt(frame: number): void {
    this.around = Math.max(0, Math.round(frame));
    const { scene } = this.store.getState();
    if (scene && !scene.covers(frame) && !this.fetching) void this.refreshScene();
  }

  /** Fetch bodies that a frame lacks; true when any came. */
  async fetchLacking(names: string[]): Promise<boolean> {
    const came = await fetchBodies(names);
    if (came) this.store.setState(({ arrived }) => ({ arrived: arrived + 1 }));
    return came;
  }

  private async travel(way: "/api/shots/{shot}/undo" | "/api/shots/{shot}/redo"): Promise<void> {
    await this.settled();
    while (!this.closed) {
      try {
        const { shot: before } = this.store.getState();
        const answer = await got(api.POST(way, { params: { path: { shot: this.id } } }));
        if (answer.moved) await this.reload();
        const { shot: after } = this.store.getState();
        const travelled = before && after ? { back: way.endsWith("undo"), before, after } : null;
        this.store.setState({ away: false, travelled });
        return;
      } catch (why) {
        if (!isAway(why)) return sayFault(why);
        // As with edits: it is sent as soon as the server answers again.
        this.store.setState({ away: true });
        await pause();
      }
    }
  }

  private async send(): Promise<void> {
    if (this.sending || this.closed) return;
    this.sending = true;
    while (this.queue.length && !this.closed) {
      const edit = this.queue[0]!;
      try {
        const base = this.store.getState().revision;
        const scene = await sendEdit(
          this.id,
          { base, patch: edit.patch, gesture: edit.gesture },
          this.around,
        );
        this.base = patched(this.base!, edit.patch);
        this.queue.shift();
        // The core fills in what a new part of the shot leaves open.
        this.incomplete ||= bringsNew(edit);
        this.store.setState({
          revision: scene.revision,
          waiting: this.pending,
          canRedo: false,
          away: false,
          full: false,
        });
        await this.showScene(scene);
      } catch (why) {
        await this.recover(why);
      }
    }
    this.sending = false;
    if (this.incomplete && !this.closed) await this.complete();
    if (!this.pending) for (const done of this.idle.splice(0)) done();
    void this.catchUp();
  }

  /** Take the document as the core has it; edits made meanwhile stay on top. */
  private async complete(): Promise<void> {
    this.incomplete = false;
    this.completing = true;
    try {
      const open = await got(api.GET("/api/shots/{shot}", { params: { path: { shot: this.id } } }));
      if (this.closed) return;
      if (open.revision !== this.store.getState().revision) {
        // Edited again meanwhile: what is newest is asked for after that.
        this.incomplete = true;
        return;
      }
      this.base = open.document as Shot;
      const { shot, kept } = rebased(this.base as Shot, this.queue);
      this.queue = kept;
      this.store.setState({ shot, waiting: this.pending });
    } catch (why) {
      if (!(why instanceof Unreachable)) sayFault(why);
    } finally {
      this.completing = false;
    }
    for (const edit of this.afterwards.splice(0)) edit();
    this.store.setState({ waiting: this.pending });
  }

  private async recover(why: unknown): Promise<void> {
    if (why instanceof Refused && why.status === 409 && why.problem.since) {
      for (const other of why.problem.since) this.base = patched(this.base!, other.patch as Operation[]);
      const { shot, kept, lost } = rebased(this.base!, this.queue);
      this.queue = kept;
      this.store.setState({ shot, revision: why.problem.revision!, waiting: this.pending });
      if (lost.length) say("What you changed was removed in another tab; that change could not be kept.");
    } else if (isAway(why)) {
      this.store.setState({ away: true, full: why instanceof Refused && why.status === 507 });
      await pause();
    } else {
      this.queue.shift();
      const { shot, kept } = rebased(this.base!, this.queue);
      this.queue = kept;
      this.store.setState({ shot, waiting: this.pending });
      sayFault(why);
    }
  }

  /** Another tab, undo or the command line changed the shot. */
  private async catchUp(): Promise<void> {
    if (!this.sending && !this.queue.length && this.heard > this.store.getState().revision)
      await this.reload();
  }

  private async reload(): Promise<void> {
    try {
      const open = await got(api.GET("/api/shots/{shot}", { params: { path: { shot: this.id } } }));
      if (this.closed) return;
      if (this.sending || this.queue.length) {
        // Our own edits come first; whatever is newer is met when they are sent.
        this.store.setState({ away: false });
        if (!this.sending) void this.send();
        return;
      }
      if (open.revision < this.store.getState().revision) {
        // The answer was overtaken by an edit made and stored meanwhile.
        this.store.setState({ away: false });
        return;
      }
      this.base = open.document as Shot;
      this.heard = Math.max(this.heard, open.revision);
      this.store.setState({
        shot: open.document as Shot,
        revision: open.revision,
        canUndo: open.can_undo,
        canRedo: open.can_redo,
        away: false,
        fault: null,
        production: { id: open.production, name: open.production_name },
      });
      await this.refreshScene();
    } catch (why) {
      if (why instanceof Unreachable) this.store.setState({ away: true });
      if (!this.base) this.store.setState({ fault: (why as Error).message });
      else if (why instanceof Refused) this.store.setState({ fault: why.message });
    }
  }

  /** Show a scene as soon as its bodies are here. */
  private async showScene(scene: Scene): Promise<void> {
    try {
      await fetchBodies(firstBodies(scene));
    } catch (why) {
      // Drawn without the letters that are not here; they are asked for again as they are looked at.
      if (!(why instanceof Unreachable)) sayFault(why);
    }
    const now = this.own ?? this.store.getState().scene;
    if (this.closed || (now && now.revision > scene.revision)) return;
    if (this.own) this.own = scene;
    else this.store.setState({ scene });
  }

  /** Show how the shot would be, until that is over (null); nothing is changed. */
  async tryOut(ask: (() => Promise<Scene>) | null): Promise<void> {
    this.trying = ask;
    if (!ask) {
      if (this.own) this.store.setState({ scene: this.own });
      this.own = null;
      return;
    }
    try {
      const scene = await ask();
      await fetchBodies(firstBodies(scene));
      // Something else may be tried by now, or nothing.
      if (this.trying !== ask || this.closed) return;
      this.own ??= this.store.getState().scene;
      this.store.setState({ scene });
    } catch (why) {
      if (!(why instanceof Unreachable)) sayFault(why);
    }
  }
  private trying: (() => Promise<Scene>) | null = null;

  /**
   * Fetch what the core makes of the newest revision; one request at a time, so that dragging never starves
   * it.
   */
  private async refreshScene(): Promise<void> {
    this.outdated = true;
    if (this.fetching) return;
    const stop = (this.fetching = new AbortController());
    try {
      while (this.outdated && !this.closed) {
        this.outdated = false;
        const scene = await fetchScene(this.id, this.around, stop.signal);
        await this.showScene(scene);
      }
    } catch (why) {
      if (!stop.signal.aborted && !(why instanceof Unreachable)) sayFault(why);
    } finally {
      this.fetching = null;
    }
  }
}
