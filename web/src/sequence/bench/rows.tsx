import { NumberField } from "../../parts/number/NumberField";
import { useSequenceSession } from "../context";

interface NumberRowProps {
  at: string;
  label: string;
  value: number;
  unit?: string;
  step?: number;
  low?: number;
  high?: number;
  whole?: boolean;
  tells: string;
}

/** A number of the sequence. */
export function NumberRow({ at, whole, value, ...rest }: NumberRowProps) {
  const session = useSequenceSession();
  return (
    <div className="row">
      <NumberField
        {...rest}
        value={value}
        onChange={(next, gesture) =>
          session.edit([{ op: "replace", path: at, value: whole ? Math.round(next) : next }], gesture)
        }
      />
    </div>
  );
}

/** How loud something is, in decibels. */
export function GainRow({ at, value, of }: { at: string; value: number; of: string }) {
  const tells = `How loud ${of} is; at −60 silent.`;
  return <NumberRow {...{ at, value, tells }} label="gain" unit="dB" step={0.1} low={-60} high={12} />;
}

interface ChoiceRowProps {
  at: string;
  label: string;
  value: string;
  choices: Record<string, string>;
  tells: string;
}

/** One of a few. */
export function ChoiceRow({ at, label, value, choices, tells }: ChoiceRowProps) {
  const session = useSequenceSession();
  return (
    <label className="row choice-row" title={tells}>
      <span className="number-label">{label}</span>
      <select
        className="plain-input"
        aria-label={label}
        value={value}
        onChange={(e) => session.edit([{ op: "replace", path: at, value: e.target.value }])}
      >
        {Object.entries(choices).map(([name, words]) => (
          <option key={name} value={name}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** On or off. */
export function SwitchRow({ at, label, value }: { at: string; label: string; value: boolean }) {
  const session = useSequenceSession();
  return (
    <label className="row switch-row">
      <input
        type="checkbox"
        checked={value}
        onChange={(e) => session.edit([{ op: "replace", path: at, value: e.target.checked }])}
      />
      {label}
    </label>
  );
}

const hex = (v: number) =>
  Math.round(255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055))
    .toString(16)
    .padStart(2, "0");
const light = (two: string) => {
  const v = parseInt(two, 16) / 255;
  return Number((v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4).toFixed(6));
};

/** A colour, picked as it is seen and kept as light. */
export function ColourRow({
  at,
  label,
  value,
}: {
  at: string;
  label: string;
  value: { r?: number; g?: number; b?: number };
}) {
  const session = useSequenceSession();
  return (
    <label className="row choice-row">
      <span className="number-label">{label}</span>
      <input
        type="color"
        aria-label={label}
        value={`#${hex(value.r ?? 0)}${hex(value.g ?? 0)}${hex(value.b ?? 0)}`}
        onChange={(e) => {
          const [r, g, b] = [1, 3, 5].map((i) => light(e.target.value.slice(i, i + 2)));
          session.edit([{ op: "replace", path: at, value: { r, g, b } }], `colour${at}`.replace(/\W/g, "-"));
        }}
      />
    </label>
  );
}
