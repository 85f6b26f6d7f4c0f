// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Operation, Shot } from "./patches";
import { patched } from "./patches";

/** A server in a few lines: one shot, revisions, 409 for stale edits. */
class Server {
  shot = {
    name: "EBB",
    things: { a: { kind: "title", words: "EBB" }, b: { kind: "light", intensity: 0 } },
    channels: {},
  } as unknown as Shot;
  revision = 0;
  log: Operation[][] = [];
  away = false;
  refuse = false;
  sent = 0;

  apply(patch: Operation[]): void {
    this.shot = patched(this.shot, patch);
    // As the core does, fill in what a new sheet leaves open.
    for (const thing of Object.values(this.shot.things ?? {})) if (thing.kind === "sheet") thing.cut ??= "";
    this.log.push(patch);
    this.revision++;
  }

  fetch = async (input: RequestInfo | URL, init?: RequestInit): Promise<Response> => {
    const request =
      input instanceof Request ? input : new Request(new URL(String(input), "http://here"), init);
    if (this.away) throw new TypeError("network");
    if (request.url.includes("/edits")) {
      this.sent++;
      const { base, patch } = (await request.json()) as { base: number; patch: Operation[] };
      if (this.refuse) return problem(422, { detail: "no good" });
      if (base !== this.revision) {
        const since = this.log
          .slice(base)
          .map((p, i) => ({ revision: base + i + 1, kind: "edit", patch: p }));
        return problem(409, { detail: "moved on", revision: this.revision, since });
      }
      this.apply(patch);
    }
    if (request.url.includes("/edits") || request.url.includes("/scene"))
      return new Response(scene(this.revision));
    const open = {
      id: "s",
      production: "p",
      production_name: "P",
      revision: this.revision,
      document: this.shot,
      can_undo: false,
      can_redo: false,
    };
    return new Response(JSON.stringify(open), { headers: { "Content-Type": "application/json" } });
  };
}

function problem(status: number, more: object): Response {
  return new Response(JSON.stringify({ title: "", status, faults: [], ...more }), {
    status,
    headers: { "Content-Type": "application/problem+json" },
  });
}

function scene(revision: number): ArrayBuffer {
  let header = JSON.stringify({
    revision,
    frames: 1,
    titles: {},
    lights: [],
    channels: [],
    studio: "dusk",
    ends: {},
    arrays: {},
  });
  header += " ".repeat((4 - (header.length % 4)) % 4);
  const bytes = new Uint8Array(4 + header.length);
  new DataView(bytes.buffer).setUint32(0, header.length, true);
  bytes.set(new TextEncoder().encode(header), 4);
  return bytes.buffer;
}

class Silent {
  binaryType = "";
  readyState = 0;
}

let server: Server;

beforeEach(() => {
  server = new Server();
  vi.stubGlobal("WebSocket", Silent);
  vi.stubGlobal("fetch", server.fetch);
});
afterEach(() => vi.unstubAllGlobals());

async function opened() {
  vi.resetModules();
  const { Session } = await import("./session");
  const session = new Session("s");
  session.open();
  await vi.waitFor(() => expect(session.store.getState().shot).not.toBeNull(), 20_000);
  return session;
}

const words = (value: string): Operation[] => [{ op: "replace", path: "/things/a/words", value }];
const said = (shot: Shot | null) => (shot!.things!.a as { words: string }).words;

it("shows an edit at once and stores it", async () => {
  const session = await opened();
  session.edit(words("FLOOD"));
  expect(said(session.store.getState().shot)).toBe("FLOOD");
  expect(session.store.getState().waiting).toBe(1);
  await session.settled();
  expect(server.revision).toBe(1);
  expect(said(server.shot)).toBe("FLOOD");
  await session.drawnUp();
  expect(session.store.getState().scene?.revision).toBe(1);
});

it("joins the steps of a gesture that are still waiting", async () => {
  const session = await opened();
  for (let i = 0; i < 40; i++)
    session.edit([{ op: "replace", path: "/things/b/intensity", value: i }], "drag");
  await session.settled();
  expect(server.sent).toBeLessThan(4);
  expect((server.shot.things!.b as { intensity: number }).intensity).toBe(39);
});

it("puts its own edit on top of what somebody else did meanwhile", async () => {
  const session = await opened();
  server.apply([{ op: "replace", path: "/things/b/intensity", value: 5 }]);
  session.edit(words("SLACK"));
  await session.settled();
  const { shot, revision } = session.store.getState();
  expect(revision).toBe(2);
  expect(said(shot)).toBe("SLACK");
  expect((shot!.things!.b as { intensity: number }).intensity).toBe(5);
  expect(server.shot).toEqual(shot);
});

it("gives up only what cannot be kept", async () => {
  const session = await opened();
  server.apply([{ op: "remove", path: "/things/b" }]);
  session.edit([{ op: "replace", path: "/things/b/intensity", value: 3 }]);
  session.edit(words("TIDE"));
  await session.settled();
  expect(server.shot.things).toEqual({ a: { kind: "title", words: "TIDE" } });
  expect(session.store.getState().shot).toEqual(server.shot);
});

it("takes back what the server refuses", async () => {
  const session = await opened();
  server.refuse = true;
  session.edit(words("X".repeat(9)));
  await session.settled();
  expect(said(session.store.getState().shot)).toBe("EBB");
  expect(session.store.getState().waiting).toBe(0);
});

it("keeps edits while the server is away and sends them when it is back", async () => {
  const session = await opened();
  server.away = true;
  session.edit(words("LATER"));
  await vi.waitFor(() => expect(session.store.getState().away).toBe(true));
  expect(said(session.store.getState().shot)).toBe("LATER");
  server.away = false;
  await session.settled();
  expect(said(server.shot)).toBe("LATER");
  expect(session.store.getState().away).toBe(false);
});

it("keeps edits of something new until the core has filled it in, and counts them as not saved", async () => {
  const session = await opened();
  session.edit([{ op: "add", path: "/things/c", value: { kind: "sheet" } }]);
  // The sheet is on its way; what it has beside its kind, only the core knows.
  session.edit([{ op: "replace", path: "/things/c/cut", value: "a" }]);
  expect(session.store.getState().waiting).toBe(2);
  await session.settled();
  expect(session.store.getState().waiting).toBe(0);
  expect(server.shot.things!.c).toEqual({ kind: "sheet", cut: "a" });
});

it("drops an edit of something that is not there and never comes", async () => {
  const session = await opened();
  session.edit([{ op: "replace", path: "/things/nowhere/cut", value: "a" }]);
  expect(session.store.getState().waiting).toBe(0);
  expect(server.sent).toBe(0);
});
