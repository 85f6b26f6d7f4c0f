import { useSession, useShotState } from "../document/context";
import { keysOf, numberAt, removeKey, setKey } from "../document/values";
import { useView } from "../view";
import { KeyButton } from "./KeyButton";
import { useShownFrame } from "./useValue";

/** Whether all of some values have a key at the present frame, and what a press does for all at once. */
export function useGroupKey(pointers: string[]) {
  const session = useSession();
  const frame = useShownFrame();
  const keyed = useShotState(({ shot }) =>
    shot ? pointers.map((at) => Number(keysOf(shot, at).some((key) => key.frame === frame))).join("") : "",
  );
  const animated = useShotState(({ shot }) => !!shot && pointers.some((at) => keysOf(shot, at).length > 0));
  const keyedHere = keyed.length > 0 && !keyed.includes("0");
  function toggleKey() {
    const { shot, scene } = session.store.getState();
    const at = useView.getState().frame;
    if (!shot) return;
    session.edit(
      pointers.flatMap((pointer) => {
        if (keyedHere) return removeKey(shot, pointer, at);
        const keys = keysOf(shot, pointer);
        if (keys.some((key) => key.frame === at)) return [];
        const value = keys.length
          ? Number((scene?.valueAt(pointer, at) ?? keys[0]!.value).toPrecision(6))
          : numberAt(shot, pointer);
        return setKey(shot, pointer, at, value);
      }),
    );
  }
  return { animated, keyedHere, toggleKey };
}

/** One line for several values: a press sets a key for each at this frame, or takes all of them away. */
export function GroupKey({ pointers, label }: { pointers: string[]; label: string }) {
  return <KeyButton label={`all of ${label}`} state={useGroupKey(pointers)} />;
}
