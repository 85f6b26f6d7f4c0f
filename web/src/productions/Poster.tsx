import { useEffect, useState } from "react";

// A browser opens few connections to one host; posters, which take their time, must leave some of them free.
const AT_ONCE = 2;
let asking = 0;
const waiting: (() => void)[] = [];

async function inTurn<T>(ask: () => Promise<T>): Promise<T> {
  if (asking >= AT_ONCE) await new Promise<void>((go) => waiting.push(go));
  asking++;
  try {
    return await ask();
  } finally {
    asking--;
    waiting.shift()?.();
  }
}

/** A traced picture of a shot; asked for again while it is being made. */
export function Poster({ shot, revision }: { shot: string; revision?: string | number }) {
  const [source, setSource] = useState<string | null>(null);
  useEffect(() => {
    let address: string | null = null;
    let timer = 0;
    const stop = new AbortController();
    async function ask(patience: number) {
      try {
        const answer = await inTurn(() => fetch(`/api/shots/${shot}/poster`, { signal: stop.signal }));
        if (answer.ok) {
          address = URL.createObjectURL(await answer.blob());
          setSource(address);
        } else if (patience > 0) {
          timer = window.setTimeout(() => void ask(patience - 1), 2500);
        }
      } catch {
        // The page was left, or the server is away; the socket's return asks again.
      }
    }
    void ask(20);
    return () => {
      stop.abort();
      clearTimeout(timer);
      if (address) URL.revokeObjectURL(address);
    };
  }, [shot, revision]);
  return source ? <img src={source} alt="" /> : <span>Tracing the poster …</span>;
}
