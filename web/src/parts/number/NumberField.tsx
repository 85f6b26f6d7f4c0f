import { Tooltip } from "@mui/material";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { evaluate, shown, tidy } from "./arithmetic";
import { useDragging } from "./useDragging";
import "./number.css";

interface Props {
  label: string;
  value: number;
  unit?: string;
  step?: number;
  low?: number;
  high?: number;
  tells?: string;
  /** Shown before the field; without it the label is only spoken. */
  bare?: boolean;
  animated?: boolean;
  onChange: (value: number, gesture?: string) => void;
}

/** A number to drag, type (with arithmetic and units), or step with the arrow keys. */
export function NumberField({
  label,
  value,
  unit = "",
  step = 0.01,
  low = -Infinity,
  high = Infinity,
  tells = "",
  bare,
  animated,
  onChange,
}: Props) {
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const typed = useRef(false);
  const keys = useRef({ gesture: "", at: 0 });
  const limited = (v: number) => Math.min(high, Math.max(low, v));

  useEffect(() => {
    // What was typed to begin with is gone on from.
    if (text !== null && !typed.current) input.current?.select();
    typed.current = false;
    // Only on entering the field.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text !== null]);

  function commit(): boolean {
    if (text === null) return true;
    const typed = evaluate(text, unit, value);
    if (typed === null) {
      setFault(true);
      return false;
    }
    setText(null);
    setFault(false);
    const next = limited(typed);
    if (next !== value) onChange(next);
    return true;
  }

  function onKeyDown(event: KeyboardEvent<HTMLInputElement>) {
    if (event.key === "Enter") {
      if (text === null) setText(shown(value, step / 10));
      else commit();
      event.preventDefault();
    } else if (text === null && /^[-0-9.,+*/=]$/.test(event.key) && !event.ctrlKey && !event.metaKey) {
      typed.current = true;
      setText(event.key);
      event.preventDefault();
    } else if (event.key === "Escape" && text !== null) {
      setText(null);
      setFault(false);
      event.stopPropagation();
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      const now = Date.now();
      if (now - keys.current.at > 900) keys.current.gesture = crypto.randomUUID();
      keys.current.at = now;
      const by =
        step * 4 * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1) * (event.key === "ArrowUp" ? 1 : -1);
      setText(null);
      onChange(tidy(limited(value + by)), keys.current.gesture);
    }
  }

  const dragging = useDragging({
    value,
    step,
    limited,
    onChange,
    ready: () => text === null,
    onTake: () => input.current?.focus(),
    onClick: () => setText(shown(value, step / 10)),
  });

  return (
    <Tooltip
      title={fault ? "This is no number I understand; try 12, 1.5 m or *2" : tells}
      placement="left"
      open={fault || undefined}
    >
      <label className={`number${bare ? " bare" : ""}`}>
        {!bare && <span className="number-label">{label}</span>}
        <span className={`number-box${fault ? " fault" : ""}${animated ? " animated" : ""}`}>
          <input
            ref={input}
            aria-label={label}
            role="spinbutton"
            aria-valuenow={value}
            inputMode="decimal"
            value={text ?? shown(value, step)}
            readOnly={text === null}
            onChange={(e) => setText(e.target.value)}
            onBlur={() => {
              if (!commit()) {
                setText(null);
                setFault(false);
              }
            }}
            onKeyDown={onKeyDown}
            {...dragging}
          />
          {unit && <span className="number-unit">{unit}</span>}
        </span>
      </label>
    </Tooltip>
  );
}
