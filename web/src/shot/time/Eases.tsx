import { IconButton, Menu, MenuItem, Tooltip } from "@mui/material";
import { useState } from "react";
import { Icon } from "../../parts/Icon";
import { NumberField } from "../../parts/number/NumberField";
import { useChannels, useSession } from "../document/context";
import { keysOf, SMOOTH, writeKeys, type Ease, type Key } from "../document/values";
import { look, useView } from "../view";
import { OwnEases } from "./OwnEases";
import { useKeyCommands } from "./useKeyCommands";

interface Offered {
  name: string;
  tells: string;
  /** Its curve in a box of 20 by 14, for the button. */
  curve: string;
  ease: Ease;
}

const bezier = (x1: number, y1: number, x2: number, y2: number): Ease => ({ ...SMOOTH, x1, y1, x2, y2 });
const kind = (kind: NonNullable<Ease["kind"]>): Ease => ({ ...SMOOTH, kind });

const HANDLES = "M2 12C6 -2 14 16 18 2M2 12L6 3M18 2L14 11";

const EASES: Offered[] = [
  { name: "linear", tells: "Even pace to the next key", curve: "M2 12L18 2", ease: kind("linear") },
  { name: "soft", tells: "Starts and ends softly", curve: "M2 12C9 12 11 2 18 2", ease: SMOOTH },
  {
    name: "soft landing",
    tells: "Arrives slowly",
    curve: "M2 12C5 4 5 2 18 2",
    ease: bezier(0.2, 0.7, 0.1, 1),
  },
  {
    name: "slow start",
    tells: "Leaves slowly",
    curve: "M2 12C13 12 16 8 18 2",
    ease: bezier(0.7, 0, 0.9, 0.4),
  },
  {
    name: "past and back",
    tells: "Goes too far and returns",
    curve: "M2 12C7 -3 10 2 18 3.5",
    ease: bezier(0.3, 1.4, 0.5, 1),
  },
  {
    name: "smooth",
    tells: "One curve through the keys before and after, that never goes beyond them",
    curve: "M2 12C4 12 5 8 8 7.5C13 7 15 2 18 2",
    ease: kind("smooth"),
  },
  {
    name: "spring",
    tells: "Swings into the next key, by stiffness and damping",
    curve: "M2 12C4 -4 6 0 8 5C10 8 11 2 13 3.4C15 5 16 4 18 4",
    ease: kind("spring"),
  },
  {
    name: "bounce",
    tells: "Falls onto the next key and comes up again",
    curve: "M2 12C5 12 7 8 8 2C9 6 12 6 13 2C14 4 15 4 18 2",
    ease: kind("bounce"),
  },
  {
    name: "steps",
    tells: "Jumps, as often as you say",
    curve: "M2 12H7V8.6H12V5.3H18V2",
    ease: kind("steps"),
  },
  {
    name: "handles",
    tells: "Bends by handles in value, even between two keys of one value",
    curve: HANDLES,
    ease: kind("handles"),
  },
  { name: "hold", tells: "Stays until the next key", curve: "M2 12H18V2", ease: kind("hold") },
];

const same = (a: Ease, b: Ease) =>
  a.kind === b.kind &&
  (a.kind !== "cubic-bezier" || (a.x1 === b.x1 && a.y1 === b.y1 && a.x2 === b.x2 && a.y2 === b.y2));

/** The curve of any ease, in the same box as those that are offered. */
function curveOf(ease: Ease): string {
  if (ease.kind !== "cubic-bezier") return EASES.find((one) => one.ease.kind === ease.kind)?.curve ?? "";
  const [x, y] = [(share = 0) => 2 + 16 * share, (share = 0) => 12 - 10 * share];
  const at = (across?: number, up?: number) => `${x(across).toFixed(1)} ${y(up).toFixed(1)}`;
  return `M2 12C${at(ease.x1, ease.y1)} ${at(ease.x2, ease.y2)} 18 2`;
}

/** Numbers of an ease beside its curve, by its kind. */
interface Shaping {
  name: keyof Ease;
  unit: string;
  tells: string;
  low: number;
  high: number;
  step: number;
}
const COUNT = { name: "count", unit: "×", low: 1, high: 100, step: 0.05 } as const;
const NUMBERS: Partial<Record<string, Shaping[]>> = {
  spring: [
    { name: "stiffness", unit: "stiff", tells: "How hard it pulls", low: 1, high: 5000, step: 2 },
    { name: "damping", unit: "damp", tells: "How soon it rests", low: 0.5, high: 500, step: 0.1 },
  ],
  bounce: [
    { ...COUNT, tells: "How often it comes up again" },
    {
      name: "rebound",
      unit: "high",
      tells: "Which share of its height is left",
      low: 0,
      high: 0.9,
      step: 0.005,
    },
  ],
  steps: [{ ...COUNT, tells: "How many jumps" }],
};

/** What the chosen keys are like: how the value leaves them; of a single one, its frame and value. */
export function Eases() {
  const channels = useChannels();
  const chosen = useView((s) => s.chosen);
  const { setEase, remove } = useKeyCommands();
  const first = chosen[0];
  const key = first && channels[first.pointer]?.keys.find(({ frame }) => frame === first.frame);
  if (!first || !key?.ease) return null;
  const present = key.ease;
  return (
    <div className="eases" role="group" aria-label="Ease of the chosen keys">
      {chosen.length === 1 ? <OneKey pointer={first.pointer} item={key} /> : null}
      <span className="muted">{chosen.length === 1 ? "" : `${chosen.length} keys`}</span>
      {EASES.map(({ name, tells, curve, ease }) => (
        <Tooltip
          key={name}
          title={
            <>
              <b>{name}</b>
              <br />
              {tells}
            </>
          }
        >
          <button aria-label={name} aria-pressed={same(present, ease)} onClick={() => setEase(ease)}>
            <svg width="20" height="14" viewBox="0 0 20 14" aria-hidden="true">
              <path d={curve} />
            </svg>
          </button>
        </Tooltip>
      ))}
      {(NUMBERS[present.kind!] ?? []).map(({ name, unit, tells, low, high, step }) => (
        <NumberField
          bare
          key={name}
          label={name}
          unit={unit}
          tells={tells}
          value={Number(present[name])}
          low={low}
          high={high}
          step={step}
          onChange={(next, gesture) =>
            setEase({ ...present, [name]: name === "count" ? Math.round(next) : next }, gesture)
          }
        />
      ))}
      <OwnEases present={present} curveOf={curveOf} />
      <KeyMenu />
      <Tooltip title="Remove the chosen keys (Delete)">
        <IconButton aria-label="Remove the chosen keys" onClick={remove}>
          <Icon name="trash" size={15} />
        </IconButton>
      </Tooltip>
    </div>
  );
}

/** Frame and value of the one key that is chosen, to be typed. */
function OneKey({ pointer, item }: { pointer: string; item: Key }) {
  const session = useSession();
  const put = (changed: Partial<Key>, gesture?: string) => {
    const keys = keysOf(session.store.getState().shot!, pointer);
    const others = keys.filter(({ frame }) => frame !== item.frame);
    // On a frame where another key stands it would push that one out.
    if (others.some(({ frame }) => frame === changed.frame)) return;
    session.edit(writeKeys(pointer, [...others, { ...item, ...changed }]), gesture);
    if (changed.frame !== undefined) look({ chosen: [{ pointer, frame: changed.frame }] });
  };
  return (
    <>
      <NumberField
        bare
        label="frame of the key"
        unit="fr"
        tells="The frame the key stands at; parts of frames count"
        value={item.frame}
        step={0.1}
        low={0}
        onChange={(frame, gesture) => put({ frame: Number(frame.toFixed(3)) }, gesture)}
      />
      <NumberField
        bare
        label="value of the key"
        tells="The value at the key"
        value={item.value}
        onChange={(value, gesture) => put({ value }, gesture)}
      />
    </>
  );
}

/** What else can be done with chosen keys. */
function KeyMenu() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { change, copy } = useKeyCommands();
  const copied = useView((s) => s.copied.length);
  const items: [label: string, run: () => void, off?: boolean][] = [
    ["Turn round in time", () => void change("reverse")],
    ["Mirror in value", () => void change("mirror")],
    ["Twice as slow, about the present frame", () => void change("stretch", { share: 2 })],
    ["Twice as fast, about the present frame", () => void change("stretch", { share: 0.5 })],
    ["Even speed, from the first to the last of them", () => void change("even")],
    ["Repeat once", () => void change("repeat")],
    ["Repeat four times", () => void change("repeat", { times: 4 })],
    ["Copy (Ctrl C)", copy],
    ["Paste at the present frame, onto what is pointed at (Ctrl V)", () => void change("paste"), !copied],
  ];
  return (
    <>
      <Tooltip title="More for the chosen keys">
        <IconButton
          aria-label="More for the chosen keys"
          aria-haspopup="menu"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <Icon name="more" size={15} />
        </IconButton>
      </Tooltip>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        {items.map(([label, run, off]) => (
          <MenuItem
            key={label}
            dense
            disabled={off}
            onClick={() => {
              setAnchor(null);
              run();
            }}
          >
            {label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
