import { Popover, Tooltip } from "@mui/material";
import { useState } from "react";
import { valueInfo, type ValueInfo } from "../../api/queries";
import { fromHex, toHex, type Colour } from "../../parts/colour/convert";
import { Icon } from "../../parts/Icon";
import { NumberField } from "../../parts/number/NumberField";
import { useAt, useSession } from "../document/context";
import type { Operation } from "../document/patches";
import { removeKey, setKey, setValue } from "../document/values";
import { useView } from "../view";
import { GroupKey } from "./GroupKey";
import { KeyButton } from "./KeyButton";
import { MoverButton, MoverPanel, useMover } from "./Mover";
import { useTold } from "./useTold";
import { useNumber } from "./useValue";

interface Row {
  info: ValueInfo;
  at: string;
  label?: string;
}

export function NumberRow({ info, at, label = info.label }: Row) {
  const state = useNumber(at);
  const unit = useUnit(info, at);
  const changed = !state.animated && state.value !== info.default;
  const mover = useMover(at);
  const row = (
    <div className="row">
      {info.keyable && <KeyButton label={label} state={state} at={at} />}
      {info.keyable && <MoverButton label={label} {...mover} />}
      <NumberField
        label={label}
        value={state.value}
        unit={unit}
        step={info.step}
        low={info.low}
        high={info.high}
        tells={info.tells}
        animated={state.animated}
        onChange={state.set}
      />
      <Reset label={label} shown={changed} run={() => state.set(info.default as number)} />
    </div>
  );
  if (!mover.open) return row;
  return (
    <>
      {row}
      <MoverPanel at={at} label={label} />
    </>
  );
}

/** The unit of a number, where that hangs on a choice beside it. */
function useUnit(info: ValueInfo, at: string): string | undefined {
  const [beside, units] = Object.entries(info.units ?? {})[0] ?? ["", {}];
  const chosen = useAt(at.replace(/[^/]+$/, beside));
  return units[String(chosen)] ?? info.unit;
}

/** Three numbers that belong together, side by side. */
export function TripleRow({
  infos,
  base,
  name,
  label,
}: {
  infos: ValueInfo[];
  base: string;
  name: string;
  label: string;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const info = infos.find(({ pointer }) => pointer === open);
  return (
    <div className="triple" role="group" aria-label={label}>
      <div className="triple-head">
        <span className="number-label">{name}</span>
        {infos.every((info) => info.keyable) && (
          <GroupKey pointers={infos.map((info) => base + info.pointer)} label={name} />
        )}
      </div>
      <div className="triple-fields">
        {infos.map((info) => (
          <TripleField
            key={info.pointer}
            info={info}
            at={base + info.pointer}
            label={`${name} ${info.label}`}
            open={open === info.pointer}
            onOpen={() => setOpen(open === info.pointer ? null : info.pointer)}
          />
        ))}
      </div>
      {info && <MoverPanel at={base + info.pointer} label={`${name} ${info.label}`} />}
    </div>
  );
}

interface TripleFieldProps {
  info: ValueInfo;
  at: string;
  label: string;
  open: boolean;
  onOpen: () => void;
}

function TripleField({ info, at, label, open, onOpen }: TripleFieldProps) {
  const state = useNumber(at);
  const { moves } = useMover(at);
  return (
    <div className="triple-field">
      <span className="triple-name">
        <KeyButton label={label} state={state} at={at} />
        {info.label}
        {info.keyable && <MoverButton label={label} open={open} moves={moves} toggle={onOpen} />}
      </span>
      <NumberField
        bare
        label={label}
        value={state.value}
        unit={info.unit}
        step={info.step}
        low={info.low}
        high={info.high}
        tells={info.tells}
        animated={state.animated}
        onChange={state.set}
      />
    </div>
  );
}

export function ChoiceRow({
  info,
  at,
  label = info.label,
  put: choose,
}: Row & { put?: (next: string) => void }) {
  const told = useTold(at);
  const value = String(told.value);
  const put = (next: string) => {
    if (next === value) return;
    if (choose) choose(next);
    else told.set(next);
  };
  return (
    <Tooltip title={info.tells} placement="left">
      <div className="row">
        {!choose && <ToldKey label={label} told={told} />}
        <span className="number-label">{label}</span>
        {info.choices!.map((choice) => `${choice}  `).join("").length > LONG ||
        info.choices!.join("").length + label.length > WIDE ? (
          <select
            className="plain-input choice-list"
            aria-label={label}
            value={value}
            onChange={(e) => put(e.target.value)}
          >
            {info.choices!.map((choice) => (
              <option key={choice} value={choice}>
                {choice}
              </option>
            ))}
          </select>
        ) : (
          <div className="segments" role="radiogroup" aria-label={label}>
            {info.choices!.map((choice) => (
              <button key={choice} role="radio" aria-checked={choice === value} onClick={() => put(choice)}>
                {choice}
              </button>
            ))}
          </div>
        )}
      </div>
    </Tooltip>
  );
}

// Letters of all choices together, each with the room beside it, that still stand side by side.
const LONG = 30;
// And letters of those with their label.
const WIDE = 31;

/** The key of a choice, a switch or a text; out of the way of what is set in its row. */
export function ToldKey({ label, told }: { label: string; told: ReturnType<typeof useTold> }) {
  return (
    <span className="told-key" onClick={(e) => e.preventDefault()}>
      <KeyButton label={label} state={told} />
    </span>
  );
}

/** A line of text, taken over when it is left or Enter is pressed. */
export function TextRow({ info, at }: Row) {
  const told = useTold(at);
  const value = String(told.value ?? "");
  return (
    <Tooltip title={info.tells} placement="left">
      <label className="row">
        <ToldKey label={info.label} told={told} />
        <span className="number-label">{info.label}</span>
        <input
          key={value}
          className="plain-input"
          aria-label={info.label}
          defaultValue={value}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          onBlur={(e) => e.target.value !== value && told.set(e.target.value)}
        />
      </label>
    </Tooltip>
  );
}

export function SwitchRow({ info, at }: Row) {
  const told = useTold(at);
  const on = told.value === true;
  return (
    <Tooltip title={info.tells} placement="left">
      <label className="row switch-row">
        <ToldKey label={info.label} told={told} />
        <span className="number-label">{info.label}</span>
        <input
          type="checkbox"
          aria-label={info.label}
          checked={on}
          onChange={(e) => told.set(e.target.checked)}
        />
      </label>
    </Tooltip>
  );
}

export function ColourRow({ info, at }: Row) {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const channels = { r: useNumber(`${at}/r`), g: useNumber(`${at}/g`), b: useNumber(`${at}/b`) };
  const colour: Colour = { r: channels.r.value, g: channels.g.value, b: channels.b.value };
  const hex = toHex(colour);

  function put(next: Colour, gesture?: string) {
    const shot = session.store.getState().shot;
    if (!shot) return;
    const { frame } = useView.getState();
    const operations: Operation[] = (["r", "g", "b"] as const).flatMap((c) =>
      setValue(shot, `${at}/${c}`, next[c], frame),
    );
    session.edit(operations, gesture);
  }
  /** One key for all three: the colour as a whole moves. */
  function toggleKey() {
    const shot = session.store.getState().shot;
    if (!shot) return;
    const { frame } = useView.getState();
    session.edit(
      (["r", "g", "b"] as const).flatMap((c) =>
        keyedHere
          ? removeKey(shot, `${at}/${c}`, frame)
          : setKey(shot, `${at}/${c}`, frame, channels[c].value),
      ),
    );
  }
  const fallback = info.default as Colour;
  const keyedHere = channels.r.keyedHere || channels.g.keyedHere || channels.b.keyedHere;
  const moving = channels.r.animated || channels.g.animated || channels.b.animated;

  return (
    <div className="row">
      {info.keyable && (
        <KeyButton
          label={info.label}
          state={{ animated: moving, keyedHere, toggleKey }}
          at={
            (["g", "r", "b"] as const).map((c) => `${at}/${c}`)[
              channels.g.animated ? 0 : channels.r.animated ? 1 : 2
            ]
          }
        />
      )}
      <Tooltip title={info.tells} placement="left">
        <span className="number-label">{info.label}</span>
      </Tooltip>
      <button
        className={`swatch${moving ? " animated" : ""}`}
        aria-label={`${info.label}: ${hex}`}
        aria-haspopup="dialog"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <i style={{ background: hex }} />
        <span className="mono">{hex}</span>
      </button>
      <Reset label={info.label} shown={!moving && hex !== toHex(fallback)} run={() => put(fallback)} />
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
        transitionDuration={0}
      >
        <ColourPanel label={info.label} hex={hex} onColour={put} at={at} keyable={info.keyable} />
      </Popover>
    </div>
  );
}

function ColourPanel({
  label,
  hex,
  onColour,
  at,
  keyable,
}: {
  label: string;
  hex: string;
  onColour: (c: Colour, gesture?: string) => void;
  at: string;
  keyable: boolean;
}) {
  const [text, setText] = useState<string | null>(null);
  const [gesture] = useState(() => crypto.randomUUID());
  const info = (c: "r" | "g" | "b", name: string): ValueInfo =>
    valueInfo({
      pointer: c,
      kind: "number",
      group: "",
      label: name,
      tells: "Scene-linear, Rec.709 primaries.",
      keyable,
      default: undefined,
      step: 0.002,
      low: 0,
      high: 1,
    });
  const typed = text === null ? undefined : fromHex(text);
  return (
    <div className="colour-panel" role="dialog" aria-label={label}>
      <div className="row">
        <input
          type="color"
          aria-label="Pick a colour"
          value={hex}
          onChange={(e) => onColour(fromHex(e.target.value)!, gesture)}
        />
        <input
          className="plain-input mono"
          aria-label="sRGB hex"
          aria-invalid={typed === null}
          size={9}
          value={text ?? hex}
          onChange={(e) => {
            setText(e.target.value);
            const colour = fromHex(e.target.value);
            if (colour) onColour(colour, gesture);
          }}
          onBlur={() => setText(null)}
        />
        <span className="muted">sRGB</span>
      </div>
      <span className="muted small">Scene-linear</span>
      {(["r", "g", "b"] as const).map((c) => (
        <NumberRow key={c} info={info(c, { r: "red", g: "green", b: "blue" }[c])} at={`${at}/${c}`} />
      ))}
    </div>
  );
}

export function Reset({ label, shown, run }: { label: string; shown: boolean; run: () => void }) {
  if (!shown) return <span className="reset-gap" />;
  return (
    <Tooltip title="Back to the value a new one has" placement="left">
      <button className="reset" aria-label={`Reset ${label}`} onClick={run}>
        <Icon name="reset" size={13} />
      </button>
    </Tooltip>
  );
}
