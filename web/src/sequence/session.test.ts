// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { patched, type Operation } from "../shot/document/patches";
import { startsOf, totalOf, type Sequence, type SequenceSession } from "./session";

const piece = (frames: number, kind: "cut" | "dissolve" = "cut", over = 0) => ({
  kind: "shot" as const,
  shot: "a",
  frames,
  transition: { kind, frames: over },
});

describe("a sequence laid out", () => {
  const sequence = {
    name: "Opening",
    line: [piece(40), piece(30, "dissolve", 12), piece(10, "cut", 5)],
    lanes: [
      { name: "Names", on: true, pieces: [{ at: 60, piece: piece(25) }] },
      { name: "Off", on: false, pieces: [{ at: 500, piece: piece(25) }] },
    ],
  } as unknown as Sequence;

  it("lets pieces begin where their transitions begin, and cuts have no length", () => {
    expect(startsOf(sequence)).toEqual([0, 28, 58]);
  });

  it("is as long as whatever ends last, of lanes that are seen", () => {
    expect(totalOf(sequence, startsOf(sequence))).toBe(85);
    expect(totalOf({ ...sequence, lanes: [] }, startsOf(sequence))).toBe(68);
  });
});

/** A server in a few lines: one sequence, revisions, 409 for stale edits; answers to looking can be held. */
class Server {
  sequence = { name: "Opening", line: [piece(40)], lanes: [] } as unknown as Sequence;
  revision = 0;
  refuse = false;
  held: (() => void)[] | null = null;

  fetch = async (input: RequestInfo | URL): Promise<Response> => {
    const request = input as Request;
    if (request.method === "POST") {
      const { base, patch } = (await request.json()) as { base: number; patch: Operation[] };
      if (this.refuse || base !== this.revision) return answer({ title: "", status: 409 }, 409);
      this.sequence = patched(this.sequence, patch);
      return answer({ revision: ++this.revision });
    }
    const now = { id: "s", revision: this.revision, document: this.sequence, starts: [0], total: 40 };
    if (this.held) await new Promise<void>((go) => this.held!.push(go));
    return answer(now);
  };
}

const answer = (body: object, status = 200): Response =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });

describe("a sequence that is edited", () => {
  let server: Server;
  let session: SequenceSession;
  const lasts = (frames: number): Operation[] => [{ op: "replace", path: "/line/0/frames", value: frames }];
  const shown = () => session.store.getState().open!.document.line![0]!.frames;

  beforeEach(async () => {
    server = new Server();
    vi.stubGlobal("location", new URL("http://here/"));
    vi.stubGlobal("fetch", server.fetch);
    vi.resetModules();
    session = new (await import("./session")).SequenceSession("s");
    await session.reload();
  });
  afterEach(() => vi.unstubAllGlobals());

  it("is not taken back by an answer that an edit has overtaken", async () => {
    server.held = [];
    const looking = session.reload();
    await vi.waitFor(() => expect(server.held).toHaveLength(1));
    session.edit(lasts(30));
    await vi.waitFor(() => expect(server.revision).toBe(1));
    await vi.waitFor(() => expect(server.held).toHaveLength(2));
    server.held[0]!();
    await looking;
    expect(shown()).toBe(30);
    const last = server.held[1]!;
    server.held = null;
    last();
    session.edit(lasts(20));
    await session.settled();
    expect(server.sequence.line![0]!.frames).toBe(20);
    expect(session.store.getState().waiting).toBe(0);
  });

  it("shows what the server has, and says saved, where an edit is refused", async () => {
    server.refuse = true;
    session.edit(lasts(10));
    await session.settled();
    expect(shown()).toBe(40);
    expect(session.store.getState().waiting).toBe(0);
  });
});
