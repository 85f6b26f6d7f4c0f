import { useCallback } from "react";
import { useAt, useKeys, useSession, useShotState } from "../document/context";
import { keysOf, removeKey, setKey, setValue } from "../document/values";
import { useView, type View } from "../view";

export interface NumberState {
  value: number;
  animated: boolean;
  keyedHere: boolean;
  set: (value: number, gesture?: string) => void;
  toggleKey: () => void;
}

/** The frame shown in fields: the present one, but not at every step while playing. */
export const useShownFrame = (): number => useView(shownFrame);

const shownFrame = (s: View): number => (s.playing ? s.frame - (s.frame % 5) : s.frame);

/** A number of the document at the present frame. */
export function useNumber(pointer: string): NumberState {
  const session = useSession();
  const own = Number(useAt(pointer) ?? 0);
  const keys = useKeys(pointer);
  // Drift comes on top of a value; what follows another one has that one's.
  const follows = useShotState((s) => s.shot?.couplings?.[pointer] !== undefined);
  const drifts = useShotState((s) => s.shot?.drifts?.[pointer] !== undefined);
  const frame = useView((s) => (keys.length || follows ? shownFrame(s) : 0));
  const here = keys.find((key) => key.frame === frame);
  const baked = useShotState(({ scene }) =>
    (keys.length || follows) && scene ? scene.valueAt(pointer, frame) : undefined,
  );
  const moved = Number((baked ?? keys[0]?.value ?? own).toPrecision(6));
  const value = follows ? moved : (here?.value ?? (keys.length ? moved : own));

  const set = useCallback(
    (next: number, gesture?: string) => {
      const now = session.store.getState().shot;
      if (now) session.edit(setValue(now, pointer, next, useView.getState().frame), gesture);
    },
    [session, pointer],
  );
  const toggleKey = useCallback(() => {
    const now = session.store.getState().shot;
    const at = useView.getState().frame;
    if (!now) return;
    const there = keysOf(now, pointer).some((key) => key.frame === at);
    session.edit(there ? removeKey(now, pointer, at) : setKey(now, pointer, at, value));
  }, [session, pointer, value]);

  return {
    value,
    animated: keys.length > 0 || follows || drifts,
    keyedHere: here !== undefined,
    set,
    toggleKey,
  };
}
