import { useEffect, useRef } from "react";
import { useSession } from "../document/context";
import type { Scene } from "../document/scene";

/** How long one points at something before it is tried out, in milliseconds. */
const PATIENCE = 160;

/** Shows how the shot would be while something is pointed at; `after` puts back what the trial moved. */
export function useTrial(after: () => void = () => {}) {
  const session = useSession();
  const waiting = useRef(0);
  function leave() {
    clearTimeout(waiting.current);
    void session.tryOut(null);
    after();
  }
  useEffect(() => leave, []); // eslint-disable-line react-hooks/exhaustive-deps

  function enter(ask: () => Promise<Scene>) {
    clearTimeout(waiting.current);
    waiting.current = window.setTimeout(() => {
      void session.tryOut(async () => {
        await session.settled();
        return ask();
      });
    }, PATIENCE);
  }
  return { enter, leave };
}
