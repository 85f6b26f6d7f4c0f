import { Tooltip } from "@mui/material";
import type { NumberState } from "./useValue";

/** A ring: empty without keys, verdigris where the value moves, filled where a key stands at this frame. */
export function KeyButton({
  label,
  state,
}: {
  label: string;
  state: Pick<NumberState, "animated" | "keyedHere" | "toggleKey">;
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
        <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
          <circle cx="6" cy="6" r="4" />
        </svg>
      </button>
    </Tooltip>
  );
}
