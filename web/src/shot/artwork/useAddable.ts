import { useMemo } from "react";
import type { IconName } from "../../parts/Icon";
import { useSession } from "../document/context";
import { escaped } from "../document/pointer";
import { useAdding } from "../useAdding";
import { look } from "../view";
import { addMark } from "./bring";

/** Something that can be added to a shot: as the menu says it, and as it is found by typing. */
export interface Addable {
  label: string;
  does: string;
  icon: IconName;
  keys?: string[];
  run: () => void;
}

/** The name of the field that takes files; it is there wherever things are added. */
export const FILE_TO_BRING = "File to bring";

/** Everything that can be added to a shot. */
export function useAddable(): Addable[] {
  const session = useSession();
  const adding = useAdding();
  return useMemo(() => {
    const add = (kind: string) => () => void adding.thing(kind);
    const browse = () => document.querySelector<HTMLElement>(`[aria-label="${FILE_TO_BRING}"]`)?.click();
    const drawMark = () => {
      const thing = addMark(session, "Mark", [{ name: "", path: START, finish: 0 }]);
      look({ surface: { kind: "draw", thing, at: `/things/${escaped(thing)}/pieces/0/path` } });
    };
    return [
      { label: "Title", does: "Add a title", icon: "words", keys: ["Shift+W"], run: add("title") },
      { label: "Mark: draw one", does: "Draw a mark", icon: "mark", run: drawMark },
      {
        label: "Mark, mesh, traced picture or sound from a file …",
        does: "Bring a mark, mesh, traced picture or sound from a file",
        icon: "file",
        run: browse,
      },
      {
        label: "Plate: footage the words stand in …",
        does: "Bring a plate: footage the words stand in",
        icon: "film",
        run: browse,
      },
      { label: "Sheet", does: "Add a sheet", icon: "sheet", run: add("sheet") },
      { label: "Floor", does: "Add a floor", icon: "floor", run: add("floor") },
      { label: "Strand: lines that glow and grow", does: "Add a strand", icon: "wave", run: add("strand") },
      {
        label: "Swarm: grains that gather into words",
        does: "Add a swarm",
        icon: "grains",
        run: add("swarm"),
      },
      { label: "Light", does: "Add a light", icon: "lamp", keys: ["Shift+L"], run: add("light") },
      {
        label: "Pivot: an invisible point others hang on",
        does: "Add a pivot",
        icon: "pivot",
        run: add("pivot"),
      },
    ];
  }, [session, adding]);
}

/** Something to begin with: a lozenge. */
const START =
  "M0 0C0.1 0.2 0.3 0.4 0.5 0.5C0.3 0.6 0.1 0.8 0 1C-0.1 0.8 -0.3 0.6 -0.5 0.5C-0.3 0.4 -0.1 0.2 0 0Z";
