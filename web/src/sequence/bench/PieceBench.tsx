import { Button } from "@mui/material";
import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { useOpen, useSequenceSession } from "../context";
import type { Piece } from "../line/geometry";
import { see } from "../view";
import { FramingRows } from "./FramingRows";
import { ChoiceRow, ColourRow, GainRow, NumberRow, SwitchRow } from "./rows";

const COMES_IN: Record<string, string> = {
  cut: "cut",
  dissolve: "dissolve",
  dip: "dip to a colour",
  flash: "flash of light",
  wipe: "wipe",
  circle: "growing circle",
  push: "push",
  letters: "through the letters",
  camera: "the camera travels",
};

/** What a piece of the line shows, and how it comes in. */
export function PieceBench({ index }: { index: number }) {
  const session = useSequenceSession();
  const { document, shots, others } = useOpen();
  const piece = document.line?.[index];
  if (!piece) return null;
  const at = `/line/${index}`;
  const shot = shots.find((one) => one.id === piece.shot);
  const other = others.find((one) => one.id === piece.sequence);
  return (
    <>
      <header className="bench-title">
        <h2>{shot?.name ?? other?.name ?? (piece.name || "Black")}</h2>
        {other && (
          <Link href={`/sequences/${other.id}`} className="muted">
            open the sequence
          </Link>
        )}
        {shot && (
          <Link href={`/shots/${shot.id}`} className="muted">
            open the shot
          </Link>
        )}
      </header>
      <PieceRows piece={piece} at={at} />
      {piece.kind === "shot" && <FramingRows piece={piece} />}
      {index > 0 && (
        <section className="group" aria-label="transition">
          <h3>how it comes in</h3>
          <TransitionRows piece={piece} at={`${at}/transition`} index={index} />
        </section>
      )}
      <section className="group" aria-label="piece">
        <Button
          size="small"
          startIcon={<Icon name="trash" size={14} />}
          onClick={() => {
            session.edit([{ op: "remove", path: at }]);
            see({ chosen: null });
          }}
        >
          Take it off the line
        </Button>
      </section>
    </>
  );
}

/** Which stretch of the shot, how fast, whether it is heard. */
export function PieceRows({ piece, at }: { piece: Piece; at: string }) {
  return (
    <section className="group" aria-label="what is seen">
      <NumberRow
        at={`${at}/frames`}
        label="lasts"
        unit="frames"
        step={0.5}
        low={1}
        whole
        value={piece.frames ?? 1}
        tells="Frames it is there, those of its transition among them."
      />
      {piece.kind !== "colour" ? (
        <>
          <NumberRow
            at={`${at}/skip`}
            label="from"
            unit="frames"
            step={0.5}
            low={0}
            value={piece.skip ?? 0}
            tells="The frame it begins with. Dragging a piece with Alt changes this."
          />
          {piece.kind === "shot" && (
            <>
              <NumberRow
                at={`${at}/speed`}
                label="speed"
                unit="×"
                low={-8}
                high={8}
                value={piece.speed ?? 1}
                tells="Frames of the shot a frame: below 0 it runs backwards, at 0 it stands still."
              />
              <NumberRow
                at={`${at}/gains`}
                label="speed gains"
                unit="% a frame"
                step={0.05}
                low={-100}
                high={100}
                value={piece.gains ?? 0}
                tells="How much faster it becomes with each frame: a ramp of speed."
              />
            </>
          )}
          <SwitchRow at={`${at}/heard`} label="its sound is heard" value={piece.heard !== false} />
          {piece.heard !== false && <GainRow at={`${at}/gain`} value={piece.gain ?? 0} of="its sound" />}
        </>
      ) : (
        <ColourRow at={`${at}/colour`} label="colour" value={piece.colour ?? {}} />
      )}
    </section>
  );
}

function TransitionRows({ piece, at, index }: { piece: Piece; at: string; index: number }) {
  const session = useSequenceSession();
  const how: Partial<Schemas["Transition"]> = piece.transition ?? {};
  const kind = how.kind ?? "cut";
  // A transition that has no length yet gets one.
  const choose = (next: string) => {
    const room = Math.floor(Math.min(piece.frames ?? 1, 50) / 2);
    session.edit([
      { op: "replace", path: `${at}/kind`, value: next },
      ...(next !== "cut" && !how.frames
        ? [{ op: "replace" as const, path: `${at}/frames`, value: Math.max(1, Math.min(12, room)) }]
        : []),
    ]);
  };
  return (
    <>
      <label className="row choice-row">
        <span className="number-label">comes in by</span>
        <select
          className="plain-input"
          aria-label={`piece ${index + 1} comes in by`}
          value={kind}
          onChange={(e) => choose(e.target.value)}
        >
          {Object.entries(COMES_IN).map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {kind !== "cut" && (
        <NumberRow
          at={`${at}/frames`}
          label="over"
          unit="frames"
          step={0.25}
          low={1}
          whole
          value={how.frames ?? 0}
          tells="Frames in which both are there; the piece begins so much earlier."
        />
      )}
      {kind !== "cut" && kind !== "flash" && (
        <ChoiceRow
          at={`${at}/ease`}
          label="pace"
          value={how.ease ?? "even"}
          choices={{ even: "even", soft: "gentle at both ends" }}
          tells="Evenly, or gently at both ends."
        />
      )}
      {(kind === "wipe" || kind === "push") && (
        <NumberRow
          at={`${at}/angle`}
          label="direction"
          unit="°"
          step={1}
          value={how.angle ?? 0}
          tells="Where it travels: 0 to the right, 90 upward."
        />
      )}
      {(kind === "wipe" || kind === "circle") && (
        <NumberRow
          at={`${at}/softness`}
          label="softness"
          low={0}
          high={1}
          value={how.softness ?? 0.05}
          tells="Width of the edge, in heights of the picture."
        />
      )}
      {kind === "flash" && (
        <NumberRow
          at={`${at}/strength`}
          label="flash"
          unit="stops"
          step={0.05}
          low={0}
          high={10}
          value={how.strength ?? 4}
          tells="How far light rises in the middle."
        />
      )}
      {kind === "dip" && <ColourRow at={`${at}/colour`} label="through" value={how.colour ?? {}} />}
    </>
  );
}
