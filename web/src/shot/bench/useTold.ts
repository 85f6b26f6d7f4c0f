import { useCallback } from "react";
import { changeAt, setTold, toldAt, unchangeAt } from "../document/changes";
import { useSession, useShotState } from "../document/context";
import { useView, type View } from "../view";

const shownFrame = (s: View): number => (s.playing ? s.frame - (s.frame % 5) : s.frame);
const NONE: { frame?: number }[] = [];

/** A choice, a switch or a text at the present frame. */
export function useTold(pointer: string) {
  const session = useSession();
  const keys = useShotState((s) => s.shot?.changes?.[pointer]?.keys ?? NONE);
  const frame = useView((s) => (keys.length ? shownFrame(s) : 0));
  const value = useShotState((s) => toldAt(s.shot, pointer, frame));
  const keyedHere = keys.some((key) => key.frame === frame);
  const set = useCallback(
    (next: string | boolean) => {
      const shot = session.store.getState().shot!;
      const { frame: now, recording } = useView.getState();
      session.edit(recording ? changeAt(shot, pointer, next, now) : setTold(shot, pointer, next, now));
    },
    [session, pointer],
  );
  const toggleKey = useCallback(() => {
    const shot = session.store.getState().shot!;
    const { frame: now } = useView.getState();
    const there = shot.changes?.[pointer]?.keys.some((key) => key.frame === now);
    session.edit(
      there
        ? unchangeAt(shot, pointer, now)
        : changeAt(shot, pointer, toldAt(shot, pointer, now) as string | boolean, now),
    );
  }, [session, pointer]);
  return { value, animated: keys.length > 0, keyedHere, set, toggleKey };
}
