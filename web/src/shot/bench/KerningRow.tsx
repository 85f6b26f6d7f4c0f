import { Tooltip } from "@mui/material";
import { useAt, useSession } from "../document/context";
import { removeKeysBelow } from "../document/values";
import { look, useView } from "../view";

/** Gaps between letters by hand: dragged in the picture. */
export function KerningRow({ at }: { at: string }) {
  const session = useSession();
  const kerning = useView((s) => s.kerning);
  const gaps = Object.keys((useAt(`${at}/setting/gaps`) as Record<string, unknown> | undefined) ?? {}).length;
  return (
    <div className="row">
      <span className="number-label">gaps by hand</span>
      <Tooltip title="Shows the gaps between the letters in the picture; drag one, or turn to it with Tab and use the arrow keys">
        <button className="plain-button" aria-pressed={kerning} onClick={() => look({ kerning: !kerning })}>
          {kerning ? "done" : "drag in the picture"}
        </button>
      </Tooltip>
      {gaps > 0 && (
        <button
          className="plain-button"
          onClick={() =>
            session.edit([
              ...removeKeysBelow(session.store.getState().shot!, `${at}/setting/gaps/`),
              { op: "replace", path: `${at}/setting/gaps`, value: {} },
            ])
          }
        >
          clear {gaps}
        </button>
      )}
    </div>
  );
}
