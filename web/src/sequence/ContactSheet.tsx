import { Button } from "@mui/material";
import { useState } from "react";
import { useOpen } from "./context";
import { see, useSequenceView } from "./view";

/** Pictures asked for at once: each may have to be traced. */
const AT_ONCE = 2;
const WIDE = 320;

/** Every version at the middle of every piece, side by side; a click goes there. */
export function ContactSheet() {
  const { id, document, starts, revision } = useOpen();
  const [settled, setSettled] = useState(0);
  const frame = useSequenceView((s) => s.frame);
  const versions = (document.versions ?? []).map(({ name = "", width = 16, height = 9 }) => ({
    name,
    shape: width / height,
  }));
  const rows = versions.length
    ? versions
    : [{ name: "", shape: (document.width ?? 16) / (document.height ?? 9) }];
  const columns = (document.line ?? [])
    .map((piece, k) => ({
      name: piece.name || "piece",
      frame: (starts[k] ?? 0) + Math.floor((piece.frames ?? 1) / 2),
      kind: piece.kind,
    }))
    .filter(({ kind }) => kind === "shot");
  const cells = rows.flatMap((row, r) =>
    columns.map((column, c) => ({ row, column, at: r * columns.length + c })),
  );
  return (
    <section className="contact" aria-label="Contact sheet">
      <div className="contact-head">
        <b>Contact sheet</b>
        <span className="muted" role="status">
          {settled < cells.length ? `${settled} of ${cells.length} pictures` : `${cells.length} pictures`}
        </span>
        <span className="grow" />
        <Button onClick={() => see({ sheet: false })}>Close</Button>
      </div>
      <div
        className="contact-cells"
        style={{ gridTemplateColumns: `110px repeat(${columns.length}, minmax(0, 1fr))` }}
      >
        <span />
        {columns.map((column, c) => (
          <span key={c} className="muted">
            {column.name} <span className="mono">{column.frame}</span>
          </span>
        ))}
        {rows.map((row, r) => [
          <b key={`${r} name`}>{row.name || document.name}</b>,
          ...cells
            .filter((cell) => cell.row === row)
            .map(({ column, at }) => (
              <button
                key={`${r} ${at}`}
                aria-label={`${row.name || document.name}, ${column.name}`}
                aria-current={column.frame === frame || undefined}
                style={{ aspectRatio: row.shape }}
                onClick={() => see({ frame: column.frame, version: row.name, sheet: false, playing: false })}
              >
                {at < settled + AT_ONCE && (
                  <img
                    src={`/api/sequences/${id}/frame?frame=${column.frame}&width=${WIDE}&version=${encodeURIComponent(row.name)}&as=${revision}`}
                    alt=""
                    onLoad={() => setSettled((count) => count + 1)}
                    onError={() => setSettled((count) => count + 1)}
                  />
                )}
              </button>
            )),
        ])}
      </div>
    </section>
  );
}
