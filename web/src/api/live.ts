/** The one socket of this tab: news, and traced pictures as they sharpen. */
import type { Schemas } from "./client";

export type News = Schemas["News"];
export type TracedPicture = Schemas["PictureHeader"] & { data: Blob };
export type Untraceable = Schemas["Refusal"];

export type Heard =
  News | TracedPicture | Untraceable | Schemas["KeptFrame"] | Schemas["Connected"] | { kind: "lost" };

export interface TraceWish {
  shot: string | null;
  frame?: number;
  width?: number;
  height?: number;
  samples?: number;
  tag?: number;
  show?: string;
  ahead?: number;
  /** Only if its picture is kept. */
  kept?: boolean;
  region?: number[] | null;
}

type Listener = (heard: Heard) => void;

const listeners = new Set<Listener>();
let socket: WebSocket | null = null;
let lastWish: TraceWish | null = null;
let pause = 300;

/** Listen to everything; answers how to stop. */
export function listen(listener: Listener): () => void {
  listeners.add(listener);
  if (!socket) connect();
  return () => listeners.delete(listener);
}

/** Do what takes long on the server under a name, hearing meanwhile which share is done. */
export async function withShare<T>(
  hear: (share: number) => void,
  make: (knownAs: string) => Promise<T>,
): Promise<T> {
  const knownAs = crypto.randomUUID();
  const deaf = listen((heard) => {
    if (heard.kind === "reading" && heard.id === knownAs) hear((heard.done ?? 0) / (heard.total ?? 1));
  });
  try {
    return await make(knownAs);
  } finally {
    deaf();
  }
}

/** Ask for a traced picture; the last wish is repeated after a lost connection. */
export function wish(what: TraceWish): void {
  lastWish = what.shot ? what : null;
  if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(what));
}

function tell(heard: Heard): void {
  for (const listener of listeners) listener(heard);
}

function connect(): void {
  const scheme = location.protocol === "https:" ? "wss" : "ws";
  socket = new WebSocket(`${scheme}://${location.host}/api/live`);
  socket.binaryType = "arraybuffer";
  socket.onopen = () => {
    pause = 300;
    tell({ kind: "connected" });
    if (lastWish) socket?.send(JSON.stringify(lastWish));
  };
  socket.onmessage = (event: MessageEvent<string | ArrayBuffer>) => tell(read(event.data));
  socket.onclose = () => {
    tell({ kind: "lost" });
    setTimeout(connect, pause);
    pause = Math.min(pause * 1.6, 4000);
  };
}

function read(data: string | ArrayBuffer): Heard {
  if (typeof data === "string") return JSON.parse(data) as Heard;
  const length = new DataView(data).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, length))) as TracedPicture;
  return { ...header, data: new Blob([new Uint8Array(data, 4 + length)], { type: "image/*" }) };
}
