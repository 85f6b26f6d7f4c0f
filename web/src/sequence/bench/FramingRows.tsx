import { useOpen, useSequenceSession } from "../context";
import { cropOf, framed, type Crop } from "../framing";
import type { Piece } from "../line/geometry";
import { useSequenceView } from "../view";
import { NumberField } from "../../parts/number/NumberField";

const WHOLE: Crop = { zoom: 1, x: 0.5, y: 0.5 };

/** How a shot is framed in the shape that is looked at: by the rule, or by hand. */
export function FramingRows({ piece }: { piece: Piece }) {
  const session = useSequenceSession();
  const { document } = useOpen();
  const version = useSequenceView((s) => s.version);
  const shot = piece.shot ?? "";
  const crop = cropOf(document, version, shot);
  const take = (next: Crop | null, gesture?: string) =>
    session.edit(framed(document, version, shot, next), gesture);
  return (
    <section className="group" aria-label="framing">
      <h3>framing{version && ` in ${version}`}</h3>
      <label className="row switch-row">
        <input
          type="checkbox"
          checked={crop !== null}
          onChange={(e) => take(e.target.checked ? WHOLE : null)}
        />
        by hand
      </label>
      {crop ? (
        <>
          <Share
            label="zoom"
            unit="×"
            low={1}
            high={4}
            value={crop.zoom}
            tells="At 1 as much of the shot as fits this shape; the whole shot is rendered larger for it."
            onChange={(zoom, gesture) => take({ ...crop, zoom }, gesture)}
          />
          <Share
            label="across"
            unit="%"
            value={100 * crop.x}
            tells="What is seen of its width: 0 its left side, 100 its right one. Drag the picture."
            onChange={(x, gesture) => take({ ...crop, x: x / 100 }, gesture)}
          />
          <Share
            label="down"
            unit="%"
            value={100 * crop.y}
            tells="What is seen of its height: 0 its top, 100 its bottom. Drag the picture."
            onChange={(y, gesture) => take({ ...crop, y: y / 100 }, gesture)}
          />
        </>
      ) : (
        <p className="muted">It goes by the rule of the sequence for other shapes.</p>
      )}
    </section>
  );
}

interface ShareProps {
  label: string;
  unit: string;
  value: number;
  low?: number;
  high?: number;
  tells: string;
  onChange: (value: number, gesture?: string) => void;
}

function Share({ low = 0, high = 100, unit, ...rest }: ShareProps) {
  return (
    <div className="row">
      <NumberField {...rest} {...{ unit, low, high }} step={unit === "×" ? 0.01 : 0.25} />
    </div>
  );
}
