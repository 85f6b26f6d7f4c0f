import { useEffect, useState } from "react";

/** A traced picture of a shot; asked for again while it is being made. */
export function Poster({ shot, revision }: { shot: string; revision?: string | number }) {
  const [source, setSource] = useState<string | null>(null);
  useEffect(() => {
    let address: string | null = null;
    let timer = 0;
    const stop = new AbortController();
    async function ask(patience: number) {
      try {
        const answer = await fetch(`/api/shots/${shot}/poster`, { signal: stop.signal });
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
