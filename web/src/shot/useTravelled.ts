import { useEffect, useRef } from "react";
import { useVocabulary } from "../api/queries";
import { say } from "../parts/notices";
import { changed } from "./document/changed";
import { useShotState } from "./document/context";

/** Say what undo took back, and what redo brought. */
export function useTravelled(): void {
  const travelled = useShotState((s) => s.travelled);
  const values = useVocabulary()?.values;
  const told = useRef(travelled);
  useEffect(() => {
    if (!travelled || !values || told.current === travelled) return;
    told.current = travelled;
    const what = changed(travelled.before, travelled.after, values);
    if (what) say(`${travelled.back ? "Taken back" : "Done again"}: ${what}`);
  }, [travelled, values]);
}
