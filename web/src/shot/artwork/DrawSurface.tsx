import { Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { look } from "../view";
import { DrawPaper } from "./DrawPaper";
import { mirrored, type NodeKind } from "./nodes";
import { useDrawing, type Drawing } from "./useDrawing";

const KINDS: NodeKind[] = ["corner", "smooth", "symmetric"];

/**
 * Points set and moved over a reference picture, kept at the address `at`: an outline, which has a body
 * as soon as it is closed, or one line that words run along, in metres.
 */
export function DrawSurface({ at, line = false }: { at: string; line?: boolean }) {
  const svg = useRef<SVGSVGElement>(null);
  const words = at.includes("/path/");
  const drawing = useDrawing(at, line, svg);
  const [reference, setReference] = useState<string | null>(null);
  const [faint, setFaint] = useState(0.5);
  useEffect(() => () => void (reference && URL.revokeObjectURL(reference)), [reference]);
  return (
    <div className="surface" role="region" aria-label="Draw" onKeyDown={drawing.onKeyDown}>
      <div className="surface-paper">
        <DrawPaper at={at} drawing={drawing} svg={svg} reference={reference} faint={faint} />
      </div>
      <div className="surface-tools">
        <h3>{line ? (words ? "Line of the words" : "Line of the strand") : "Draw"}</h3>
        <p className="hint">
          {line
            ? `${words ? "The words run" : "The strand runs"} along the line, from its first point on. Drag points; a click beyond the end goes on with it, dragging bends it. Double-click on the line adds a point.`
            : "Click sets a point, dragging bends it; a click on the first point closes the outline. Double-click on a side adds a point. A contour inside another is a hole."}
        </p>
        <PointTools drawing={drawing} />
        <ReferenceTools {...{ reference, setReference, faint, setFaint }} />
        <p className="hint mono">{drawing.contours.reduce((sum, c) => sum + c.nodes.length, 0)} points</p>
        <Button variant="contained" onClick={() => look({ surface: null })}>
          Done
        </Button>
      </div>
    </div>
  );
}

function PointTools({ drawing }: { drawing: Drawing }) {
  const { line, contours, now, open, chosen, put } = drawing;
  return (
    <>
      <div className="segments" role="radiogroup" aria-label="Kind of point">
        {KINDS.map((kind) => (
          <button
            key={kind}
            role="radio"
            aria-checked={now?.kind === kind}
            disabled={!now}
            onClick={() => drawing.turn(kind)}
          >
            {kind}
          </button>
        ))}
      </div>
      {!line && (
        <Button size="small" disabled={open < 0 || contours[open]!.nodes.length < 3} onClick={drawing.close}>
          Close the outline
        </Button>
      )}
      <Button size="small" disabled={!chosen} onClick={drawing.remove}>
        Remove the point
      </Button>
      <Button size="small" onClick={() => put(contours.map((c) => mirrored(c)))}>
        Mirror left and right
      </Button>
      {!line && (
        <Button
          size="small"
          onClick={() => put([...contours, ...contours.filter((c) => c.closed).map((c) => mirrored(c))])}
        >
          Add the mirror image
        </Button>
      )}
    </>
  );
}

/** A picture below what is drawn, of this sitting alone. */
function ReferenceTools({
  reference,
  setReference,
  faint,
  setFaint,
}: {
  reference: string | null;
  setReference: (address: string) => void;
  faint: number;
  setFaint: (faint: number) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button size="small" onClick={() => file.current?.click()}>
        Reference picture …
      </Button>
      <input
        ref={file}
        type="file"
        hidden
        accept="image/*"
        aria-label="Reference picture"
        onChange={(e) => e.target.files?.[0] && setReference(URL.createObjectURL(e.target.files[0]))}
      />
      {reference && (
        <input
          type="range"
          min="0.05"
          max="1"
          step="0.05"
          value={faint}
          aria-label="Strength of the reference picture"
          onChange={(e) => setFaint(Number(e.target.value))}
        />
      )}
    </>
  );
}
