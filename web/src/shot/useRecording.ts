import { useEffect } from "react";
import { useVocabulary } from "../api/queries";
import { useSession } from "./document/context";
import { useView } from "./view";

/** While recording, every change of a value that may move sets a key at the present frame. */
export function useRecording(): void {
  const session = useSession();
  const recording = useView((s) => s.recording);
  const values = useVocabulary()?.values;
  useEffect(() => {
    if (!recording || !values) return;
    const keyable = new Map(
      Object.entries(values).map(([kind, infos]) => [
        kind,
        new Set(
          infos
            .filter((info) => info.keyable)
            .flatMap(({ pointer, kind: what }) =>
              what === "colour" ? ["r", "g", "b"].map((c) => `${pointer}/${c}`) : [pointer],
            ),
        ),
      ]),
    );
    /** Which kind of vocabulary a pointer falls under, and what is left of it there. */
    function may(pointer: string): boolean {
      const thing = /^\/things\/([^/]+)(\/.*)$/.exec(pointer);
      const things = session.store.getState().shot?.things ?? {};
      const [kind, below] = thing
        ? [things[thing[1]!]?.kind ?? "", thing[2]!]
        : [pointer.split("/")[1]!, `/${pointer.split("/").slice(2).join("/")}`];
      if (keyable.get(kind)?.has(below)) return true;
      const part = /^\/(set|range|shell|deformation)s\/\d+(\/.*)$/.exec(below);
      return part !== null && (keyable.get(part[1]!)?.has(part[2]!) ?? false);
    }
    session.records = { frame: () => useView.getState().frame, may };
    return () => {
      session.records = null;
    };
  }, [session, recording, values]);
}
