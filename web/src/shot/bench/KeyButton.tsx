import { Tooltip } from "@mui/material";
import { useShotState } from "../document/context";
import { useShownFrame, type NumberState } from "./useValue";

const WIDE = 26;
const HIGH = 16;
const POINTS = 26;

/**
 * The value's own line through the shot, small: flat and faint while it stays, its curve where it moves, with
 * a bar where a key stands at this frame. A press sets the key there, or takes it away.
 */
export function KeyButton({
  label,
  state,
  at,
}: {
  label: string;
  state: Pick<NumberState, "animated" | "keyedHere" | "toggleKey">;
  /** The pointer of the number whose line it is; without one it is a line of steps. */
  at?: string;
}) {
  const kind = state.keyedHere ? "here" : state.animated ? "moving" : "still";
  const title = {
    here: "Remove the key at this frame",
    moving: "Set a key at this frame",
    still: "Set the first key: the value can move from here on",
  }[kind];
  return (
    <Tooltip title={title} placement="left">
      <button
        className={`key-button ${kind}`}
        aria-label={`Key for ${label}`}
        aria-pressed={state.keyedHere}
        onClick={state.toggleKey}
      >
        <svg width={WIDE} height={HIGH} viewBox={`0 0 ${WIDE} ${HIGH}`} aria-hidden="true">
          {kind === "still" ? <path d={`M2 ${HIGH / 2}H${WIDE - 2}`} /> : <Line at={at} />}
          {kind !== "still" && <Present here={state.keyedHere} />}
        </svg>
      </button>
    </Tooltip>
  );
}

/** The curve of a value over the whole shot. */
function Line({ at }: { at: string | undefined }) {
  const values = useShotState((s) => (at === undefined ? undefined : s.scene?.channel(at)));
  if (!values?.length) return <path d={`M2 ${HIGH - 4}H${WIDE / 2}V4H${WIDE - 2}`} />;
  const picked = Array.from({ length: POINTS }, (_, k) =>
    Number(values[Math.round((k * (values.length - 1)) / (POINTS - 1))]),
  );
  const low = Math.min(...picked);
  const tall = Math.max(...picked) - low;
  const y = (value: number) => (tall > 1e-9 ? HIGH - 3 - ((value - low) / tall) * (HIGH - 6) : HIGH / 2);
  const d = picked.map((value, k) => {
    const x = 2 + (k * (WIDE - 4)) / (POINTS - 1);
    return `${k ? "L" : "M"}${x.toFixed(1)} ${y(value).toFixed(1)}`;
  });
  return <path d={d.join("")} />;
}

/** Where in the shot one is. */
function Present({ here }: { here: boolean }) {
  const frame = useShownFrame();
  const last = useShotState((s) => (s.shot?.format?.frames ?? 2) - 1);
  const x = 2 + ((WIDE - 4) * frame) / Math.max(1, last);
  return <path className={here ? "key-here" : "key-now"} d={`M${x.toFixed(1)} 1V${HIGH - 1}`} />;
}
