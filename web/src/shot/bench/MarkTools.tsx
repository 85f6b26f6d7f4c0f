import { Button } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { useAt, useSession } from "../document/context";
import { look } from "../view";

interface Piece {
  name: string;
  finish: number;
}

/** The pieces of a mark: drawn on, finished, added and removed. */
export function MarkTools({ at, thing }: { at: string; thing: string }) {
  const session = useSession();
  const pieces = (useAt(`${at}/pieces`) as Piece[] | undefined) ?? [];
  const finishes = ((useAt(`${at}/finishes`) as unknown[] | undefined) ?? []).length;
  return (
    <section className="group" aria-label="pieces">
      <h3>pieces</h3>
      {pieces.slice(0, 40).map((piece, i) => (
        <div key={i} className="row">
          <span className="number-label">{piece.name || `piece ${i + 1}`}</span>
          <button
            className="plain-button"
            onClick={() => look({ surface: { kind: "draw", thing, at: `${at}/pieces/${i}/path` } })}
          >
            draw
          </button>
          {finishes > 1 && (
            <select
              className="plain-input piece-finish"
              aria-label={`Finish of piece ${i + 1}`}
              value={piece.finish}
              onChange={(e) =>
                session.edit([
                  { op: "replace", path: `${at}/pieces/${i}/finish`, value: Number(e.target.value) },
                ])
              }
            >
              {Array.from({ length: finishes }, (_, k) => (
                <option key={k} value={k}>
                  finish {k + 1}
                </option>
              ))}
            </select>
          )}
          {pieces.length > 1 && (
            <button
              className="plain-button"
              aria-label={`Remove piece ${i + 1}`}
              onClick={() => session.edit([{ op: "remove", path: `${at}/pieces/${i}` }])}
            >
              <Icon name="trash" size={13} />
            </button>
          )}
        </div>
      ))}
      {pieces.length > 40 && <p className="hint">and {pieces.length - 40} more</p>}
      <Button
        size="small"
        onClick={() => {
          session.edit([
            { op: "add", path: `${at}/pieces/-`, value: { path: "M-0.2 0.3L0.2 0.3L0.2 0.7L-0.2 0.7Z" } },
          ]);
          look({ surface: { kind: "draw", thing, at: `${at}/pieces/${pieces.length}/path` } });
        }}
      >
        Add a piece
      </Button>
    </section>
  );
}
