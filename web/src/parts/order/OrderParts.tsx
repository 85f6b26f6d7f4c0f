import { Button, MenuItem, Select } from "@mui/material";
import { NumberField } from "../number/NumberField";
import "./order.css";

export type Quality = "draft" | "good" | "final";
const QUALITIES: [Quality, string][] = [
  ["draft", "for timing; soft, fast"],
  ["good", "for approval"],
  ["final", "for the edit; slowest"],
];
const SHARES = [1, 2 / 3, 0.5, 1 / 3, 0.25];

/** Sides of pictures are even: not all formats take others. */
export const even = (side: number): number => Math.max(16, Math.round(side / 2) * 2);

interface Range {
  first: number;
  last: number;
  /** Frames there are. */
  frames: number;
  onChange: (first: number, last: number) => void;
}

/** From which frame to which. */
export function RangeRows({ first, last, frames, onChange }: Range) {
  return (
    <>
      <div className="row">
        <NumberField
          label="first frame"
          step={1}
          low={0}
          high={last}
          value={first}
          onChange={(v) => onChange(Math.round(v), last)}
          tells="The first frame that is delivered."
        />
      </div>
      <div className="row">
        <NumberField
          label="last frame"
          step={1}
          low={first}
          high={Math.max(0, frames - 1)}
          value={last}
          onChange={(v) => onChange(first, Math.round(v))}
          tells="The last frame that is delivered; it is part of it."
        />
      </div>
    </>
  );
}

/** How large, as a share of the size there is; `told` says it in words. */
export function SizeRow({
  share,
  told,
  onChange,
}: {
  share: number;
  told: (share: number) => string;
  onChange: (share: number) => void;
}) {
  return (
    <div className="row">
      <span className="number-label">size</span>
      <Select
        size="small"
        variant="standard"
        disableUnderline
        className="deliver-select mono"
        inputProps={{ "aria-label": "size" }}
        value={share}
        onChange={(e) => onChange(Number(e.target.value))}
      >
        {SHARES.map((s) => (
          <MenuItem key={s} value={s}>
            {told(s)}
          </MenuItem>
        ))}
      </Select>
    </div>
  );
}

/** How well; `samples` of each where they are known. */
export function QualityRow({
  quality,
  samples = {},
  onChange,
}: {
  quality: Quality;
  samples?: Record<string, number>;
  onChange: (quality: Quality) => void;
}) {
  return (
    <div className="deliver-qualities" role="radiogroup" aria-label="quality">
      {QUALITIES.map(([name, tells]) => (
        <button
          type="button"
          key={name}
          role="radio"
          aria-checked={name === quality}
          onClick={() => onChange(name)}
        >
          <b>{name}</b>
          <span>{tells}</span>
          {samples[name] !== undefined && <span className="mono">{samples[name]} samples</span>}
        </button>
      ))}
    </div>
  );
}

export interface Finding {
  frame: number;
  matters: string;
  says: string;
  /** What it is in: a shot, a version. */
  where?: string;
  /** What is seen there. */
  picture?: string;
}

/** Findings that are listed at once. */
const LISTED = 40;

/** What is to be looked at before an order; one press goes there. */
export function Findings({ found, onGo }: { found: Finding[]; onGo: (index: number) => void }) {
  if (!found.length) return <p className="order-fine">Checked: nothing to look at.</p>;
  return (
    <ul className="order-findings" aria-label="To look at">
      {found.slice(0, LISTED).map((one, i) => (
        <li key={i} className={one.matters}>
          <button type="button" onClick={() => onGo(i)}>
            {one.picture && <img src={one.picture} alt="" />}
            <span>
              <span className="mono">{one.frame}</span> {one.where && <b>{one.where} </b>}
              {one.says}
            </span>
          </button>
        </li>
      ))}
      {found.length > LISTED && <li className="muted">and {found.length - LISTED} more</li>}
    </ul>
  );
}

/** The same as a file, to be sent along. */
export function ReportLinks({ at }: { at: string }) {
  const to = (kind: string) => `${at}${at.includes("?") ? "&" : "?"}kind=${kind}`;
  return (
    <p className="muted">
      to send along:{" "}
      <a href={to("pdf")} download>
        PDF
      </a>
      ,{" "}
      <a href={to("html")} download>
        page
      </a>
    </p>
  );
}

/** Asks that pictures and sound be looked at, too; then says that they were. */
export function PicturesToo({
  looked,
  busy,
  onLook,
}: {
  looked: boolean;
  busy: boolean;
  onLook: () => void;
}) {
  if (looked && !busy) return <p className="muted">Pictures, sound and footage were looked at.</p>;
  return (
    <Button
      size="small"
      type="button"
      disabled={busy}
      onClick={onLook}
      title="Contrast, flashes, steps in gradients, sound that clips, frames that were dropped: each frame is made small for it"
    >
      {busy ? "Looking at its pictures …" : "Look at its pictures and sound too"}
    </Button>
  );
}
