import { Dialog } from "@mui/material";
import { useEffect, useMemo, useRef, useState } from "react";
import { FOCUSING, handleFocus, handleKey, useCommands, useCommandState, type Command } from "./commands";
import { Keys } from "./Keys";
import "./commands.css";

/** Everything one can do here, found by typing. */
export function Palette() {
  const { palette, overlay, sets } = useCommandState();
  const [query, setQuery] = useState("");
  const [at, setAt] = useState(0);
  const list = useRef<HTMLUListElement>(null);
  const own = useMemo<Command[]>(
    () => [
      {
        id: "palette",
        label: "Find a command",
        group: "Everywhere",
        keys: ["Mod+K"],
        always: true,
        run: () => open("palette"),
      },
      {
        id: "overlay",
        label: "Show the shortcuts",
        group: "Everywhere",
        keys: ["?"],
        run: () => open("overlay"),
      },
    ],
    [],
  );
  useCommands(own);
  useEffect(() => {
    window.addEventListener("keydown", handleKey);
    for (const type of FOCUSING) window.addEventListener(type, handleFocus, true);
    return () => {
      window.removeEventListener("keydown", handleKey);
      for (const type of FOCUSING) window.removeEventListener(type, handleFocus, true);
    };
  }, []);

  function open(what: "palette" | "overlay") {
    setQuery("");
    setAt(0);
    useCommandState.setState({ palette: what === "palette", overlay: what === "overlay" });
  }
  const close = () => useCommandState.setState({ palette: false, overlay: false });

  const commands = useMemo(() => [...sets.values()].flat(), [sets]);
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const found = commands.filter(
    (c) =>
      c.id !== "palette" &&
      (!c.searched || query.trim().length > 1) &&
      words.every((w) => `${c.group} ${c.label} ${c.also ?? ""}`.toLowerCase().includes(w)),
  );
  const chosen = Math.min(at, Math.max(0, found.length - 1));
  useEffect(() => {
    list.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
  }, [chosen, query]);

  function run(command: Command | undefined) {
    if (!command) return;
    close();
    setTimeout(command.run, 0);
  }

  return (
    <>
      <Dialog
        open={palette}
        onClose={close}
        slotProps={{ paper: { className: "palette", "aria-label": "Commands" } }}
        transitionDuration={0}
      >
        <input
          autoFocus
          className="palette-query"
          placeholder="What do you want to do?"
          aria-label="Search commands"
          value={query}
          onChange={(e) => {
            setQuery(e.target.value);
            setAt(0);
          }}
          onKeyDown={(e) => {
            if (e.key === "ArrowDown") setAt(Math.min(found.length - 1, chosen + 1));
            else if (e.key === "ArrowUp") setAt(Math.max(0, chosen - 1));
            else if (e.key === "Enter") run(found[chosen]);
            else return;
            e.preventDefault();
          }}
        />
        <ul className="palette-list" role="listbox" aria-label="Commands" ref={list}>
          {found.map((command, i) => (
            <li
              key={command.id}
              role="option"
              aria-selected={i === chosen}
              onClick={() => run(command)}
              onPointerMove={() => setAt(i)}
            >
              <span className="muted">{command.group}</span>
              <span className="grow">{command.label}</span>
              {command.keys?.[0] && <Keys combination={command.keys[0]} />}
            </li>
          ))}
          {!found.length && <li className="muted">Nothing here does that. Try fewer letters.</li>}
        </ul>
      </Dialog>
      <Dialog
        open={overlay}
        onClose={close}
        maxWidth="md"
        slotProps={{ paper: { className: "overlay", "aria-label": "Shortcuts" } }}
        transitionDuration={0}
      >
        <Overlay commands={commands} />
      </Dialog>
    </>
  );
}

function Overlay({ commands }: { commands: Command[] }) {
  const groups = [
    ...Map.groupBy(
      commands.filter((c) => c.keys),
      (c) => c.group,
    ),
  ];
  return (
    <>
      <h2>Shortcuts</h2>
      <div className="overlay-groups">
        {groups.map(([group, listed]) => (
          <section key={group}>
            <h3>{group}</h3>
            {listed.map((command) => (
              <div key={command.id} className="overlay-row">
                <span>{command.label}</span>
                <span className="overlay-keys">
                  {command.keys!.map((keys) => (
                    <Keys key={keys} combination={keys} />
                  ))}
                </span>
              </div>
            ))}
          </section>
        ))}
        <section>
          <h3>Pointer</h3>
          {[
            ["Orbit around the aim", "drag the picture"],
            ["Truck sideways and up", "Shift-drag the picture"],
            ["Dolly in and out", "wheel over the picture"],
            ["Type words in place", "double-click a title"],
            ["Change a number", "drag it; Shift ×10, Alt ÷10"],
          ].map(([what, how]) => (
            <div key={what} className="overlay-row">
              <span>{what}</span>
              <span className="muted">{how}</span>
            </div>
          ))}
        </section>
      </div>
    </>
  );
}
