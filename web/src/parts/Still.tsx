import { useEffect, useState, type ReactNode } from "react";

// A browser opens few connections to one host; pictures that take their time must leave some of them free.
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

/**
 * A traced picture that is kept by the server; asked for again while it is being made. Another `version`
 * asks anew.
 */
export function Still({
  address,
  version,
  meanwhile,
}: {
  address: string;
  version?: string | number;
  meanwhile: ReactNode;
}) {
  const [source, setSource] = useState<string | null>(null);
  useEffect(() => {
    let held: string | null = null;
    let timer = 0;
    const stop = new AbortController();
    async function ask(patience: number) {
      try {
        const answer = await inTurn(() => fetch(address, { signal: stop.signal }));
        if (answer.ok) {
          held = URL.createObjectURL(await answer.blob());
          setSource(held);
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
      if (held) URL.revokeObjectURL(held);
    };
  }, [address, version]);
  return source ? <img src={source} alt="" /> : meanwhile;
}
