import { ListItemIcon, Menu, MenuItem } from "@mui/material";
import { useRef } from "react";
import { Icon } from "../../parts/Icon";
import { sayFault } from "../../parts/notices";
import { useSession } from "../document/context";
import { escaped } from "../document/pointer";
import { useAdding } from "../useAdding";
import { look } from "../view";
import { ACCEPTED, addMark, bringThing } from "./bring";

/** Everything that can be added to a shot. */
export function AddThings({ anchor, onClose }: { anchor: HTMLElement | null; onClose: () => void }) {
  const session = useSession();
  const file = useRef<HTMLInputElement>(null);
  const adding = useAdding();
  const add = (kind: string) => void adding.thing(kind);
  function drawMark() {
    const thing = addMark(session, "Mark", [{ name: "", path: START, finish: 0 }]);
    look({ surface: { kind: "draw", thing, at: `/things/${escaped(thing)}/pieces/0/path` } });
  }
  async function bring(files: FileList | null) {
    for (const one of files ?? [])
      await bringThing(session, one).catch((why: unknown) => sayFault(why, one.name));
  }
  const items: [label: string, icon: Parameters<typeof Icon>[0]["name"], run: () => void][] = [
    ["Title", "words", () => add("title")],
    ["Mark: draw one", "mark", drawMark],
    ["Mark, mesh, traced picture or sound from a file …", "file", () => file.current?.click()],
    ["Plate: footage the words stand in …", "film", () => file.current?.click()],
    ["Sheet", "sheet", () => add("sheet")],
    ["Floor", "floor", () => add("floor")],
    ["Strand: lines that glow and grow", "wave", () => add("strand")],
    ["Swarm: grains that gather into words", "grains", () => add("swarm")],
    ["Light", "lamp", () => add("light")],
    ["Pivot: an invisible point others hang on", "pivot", () => add("pivot")],
  ];
  return (
    <>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={onClose} transitionDuration={0}>
        {items.map(([label, icon, run]) => (
          <MenuItem
            key={label}
            onClick={() => {
              onClose();
              run();
            }}
          >
            <ListItemIcon>
              <Icon name={icon} size={16} />
            </ListItemIcon>
            {label}
          </MenuItem>
        ))}
      </Menu>
      <input
        ref={file}
        type="file"
        hidden
        multiple
        accept={ACCEPTED}
        aria-label="File to bring"
        onChange={(e) => void bring(e.target.files).then(() => (e.target.value = ""))}
      />
    </>
  );
}

/** Something to begin with: a lozenge. */
const START =
  "M0 0C0.1 0.2 0.3 0.4 0.5 0.5C0.3 0.6 0.1 0.8 0 1C-0.1 0.8 -0.3 0.6 -0.5 0.5C-0.3 0.4 -0.1 0.2 0 0Z";
