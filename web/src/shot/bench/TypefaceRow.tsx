import { Button, Menu, MenuItem } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { bringFile, type Schemas } from "../../api/client";
import { useTypefaces } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import { say, sayFault } from "../../parts/notices";
import { NumberField } from "../../parts/number/NumberField";
import { useAt, useSession } from "../document/context";
import type { Operation } from "../document/patches";
import { escaped } from "../document/pointer";
import { setKey } from "../document/values";
import { useView } from "../view";
import { KeyButton } from "./KeyButton";
import { Reset } from "./Rows";
import { useNumber } from "./useValue";

type Typeface = Schemas["SturdyTypeface"];

const loaded = new Map<string, Promise<unknown>>();

/** Load a typeface under its own name so that lists can show words in it. */
function loadTypeface(name: string): Promise<unknown> {
  if (!loaded.has(name)) {
    const face = new FontFace(`title ${name}`, `url(/api/typefaces/${name}/font)`);
    document.fonts.add(face);
    loaded.set(
      name,
      face.load().catch(() => undefined),
    );
  }
  return loaded.get(name)!;
}

/** Classes to filter by: the words of a typeface's kind that say what it looks like. */
const CLASSES = [
  "all",
  "grotesque",
  "serif",
  "slab",
  "rounded",
  "script",
  "monospaced",
  "stencil",
  "inline",
  "variable",
  "brought",
];

/**
 * The typefaces, each showing this title's own words; filtered by class and by how they hold up when
 * extruded.
 */
export function TypefaceRow({ at, words }: { at: string; words: string }) {
  const session = useSession();
  const faces = useTypefaces();
  // Of a title that was added just now the core has yet to say it.
  const value = useAt(at);
  const chosen = typeof value === "string" ? value : "";
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const label = faces.find((face) => face.name === chosen)?.label ?? chosen;

  useEffect(() => {
    if (chosen) void loadTypeface(chosen);
  }, [chosen]);

  function choose(face: Typeface) {
    setAnchor(null);
    if (face.name !== chosen) session.edit([{ op: "replace", path: at, value: face.name }]);
  }
  return (
    <>
      <div className="row">
        <span className="number-label">typeface</span>
        <button
          className="typeface"
          aria-label={`Typeface: ${label}`}
          aria-haspopup="listbox"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <span style={{ fontFamily: `"title ${chosen}"` }}>{label}</span>
          <Icon name="down" size={14} />
        </button>
        <Picker
          anchor={anchor}
          faces={faces}
          chosen={chosen}
          words={words}
          onChoose={choose}
          onClose={() => setAnchor(null)}
        />
      </div>
      <AxisRows at={at.replace(/typeface$/, "axes")} face={faces.find((face) => face.name === chosen)} />
    </>
  );
}

interface PickerProps {
  anchor: HTMLElement | null;
  faces: Typeface[];
  chosen: string;
  words: string;
  onChoose: (face: Typeface) => void;
  onClose: () => void;
}

function Picker({ anchor, faces, chosen, words, onChoose, onClose }: PickerProps) {
  const [kind, setKind] = useState("all");
  const [sturdy, setSturdy] = useState(false);
  const client = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const sample = words.split("\n").find((line) => line.trim()) ?? "Title";
  const kinds = CLASSES.filter((name) => name === "all" || faces.some((face) => isOf(face, name)));
  const shown = useMemo(
    () => faces.filter((face) => (kind === "all" || isOf(face, kind)) && (!sturdy || face.holds)),
    [faces, kind, sturdy],
  );

  useEffect(() => {
    if (anchor) for (const face of shown) void loadTypeface(face.name);
  }, [anchor, shown]);

  async function bring(files: FileList | null) {
    for (const one of files ?? []) {
      try {
        const brought = (await bringFile("/api/library/typefaces", one)) as Typeface[];
        await client.invalidateQueries({ queryKey: ["typefaces"] });
        say(`${brought.map((face) => face.label).join(", ")} is here`);
        setKind("all");
      } catch (why) {
        // The list would hide what is said.
        onClose();
        sayFault(why, one.name);
      }
    }
  }
  return (
    <Menu
      anchorEl={anchor}
      open={anchor !== null}
      onClose={onClose}
      transitionDuration={0}
      slotProps={{ list: { "aria-label": "Typefaces", className: "typefaces" } }}
    >
      <li className="typeface-filters" onKeyDown={(e) => e.stopPropagation()}>
        <div role="radiogroup" aria-label="Class" className="chips">
          {kinds.map((name) => (
            <button key={name} role="radio" aria-checked={kind === name} onClick={() => setKind(name)}>
              {name}
            </button>
          ))}
        </div>
        <div className="row">
          <label className="check">
            <input type="checkbox" checked={sturdy} onChange={(e) => setSturdy(e.target.checked)} />
            holds up when extruded
          </label>
          <span className="grow" />
          <Button
            size="small"
            startIcon={<Icon name="plus" size={14} />}
            onClick={() => file.current?.click()}
          >
            Bring a typeface
          </Button>
          <input
            ref={file}
            type="file"
            hidden
            multiple
            accept=".ttf,.otf,.ttc,.otc,.woff,.woff2"
            aria-label="Font file"
            onChange={(e) => void bring(e.target.files).then(() => (e.target.value = ""))}
          />
        </div>
      </li>
      {shown.map((face) => (
        <MenuItem
          key={face.name}
          aria-label={face.label}
          aria-selected={face.name === chosen}
          selected={face.name === chosen}
          onClick={() => onChoose(face)}
        >
          <span className="typeface-choice">
            <span style={{ fontFamily: `"title ${face.name}"` }}>{sample.slice(0, 24)}</span>
            <small>
              {face.label} · {face.kind} · {strengths(face)}
            </small>
          </span>
        </MenuItem>
      ))}
      {!shown.length && (
        <li className="hint">
          No typeface of this class holds up that well. Take the filter off, or bring one.
        </li>
      )}
    </Menu>
  );
}

const isOf = (face: Typeface, kind: string) =>
  kind === "brought"
    ? face.brought
    : kind === "variable"
      ? face.axes.length > 0
      : new RegExp(`\\b${kind}`).test(face.kind);

/** What was measured, in words. */
function strengths(face: Typeface): string {
  if (face.holds) return "holds up";
  const weak = [face.thin < 0.08 && "hairlines", face.counter < 0.1 && "narrow counters"].filter(Boolean);
  return weak.join(", ") || "delicate";
}

/** The axes of a variable typeface, as values like any other. */
function AxisRows({ at, face }: { at: string; face: Typeface | undefined }) {
  return face?.axes.map((axis) => <AxisRow key={axis.tag} at={`${at}/${escaped(axis.tag)}`} axis={axis} />);
}

/**
 * An axis stands in the document only once it was moved or keyed; until then it is where the typeface has
 * it.
 */
function AxisRow({ at, axis }: { at: string; axis: Typeface["axes"][number] }) {
  const session = useSession();
  const known = useAt(at) !== undefined;
  const state = useNumber(`${at}/value`);
  const label = axis.label.toLowerCase();
  const fresh = (value: number): Operation => ({ op: "add", path: at, value: { value } });
  function toggleKey() {
    const { shot } = session.store.getState();
    if (known) state.toggleKey();
    else if (shot)
      session.edit([
        fresh(axis.default),
        ...setKey(shot, `${at}/value`, useView.getState().frame, axis.default),
      ]);
  }
  return (
    <div className="row">
      <KeyButton label={label} state={{ ...state, toggleKey }} at={`${at}/value`} />
      <NumberField
        label={label}
        value={known ? state.value : axis.default}
        step={(axis.high - axis.low) / 400}
        low={axis.low}
        high={axis.high}
        tells={`Moves the letters along the axis ${axis.tag} of the typeface.`}
        animated={state.animated}
        onChange={(value, gesture) =>
          known ? state.set(value, gesture) : session.edit([fresh(value)], gesture)
        }
      />
      <Reset
        label={label}
        shown={known && !state.animated && state.value !== axis.default}
        run={() => state.set(axis.default)}
      />
    </div>
  );
}
