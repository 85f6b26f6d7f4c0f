import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { api, got } from "../../../api/client";
import { useSession } from "../../document/context";
import { look, useView } from "../../view";
import type { Place } from "./taking";

type Four = [Place, Place, Place, Place];

/** Nearer edge from left to right, then the far one back. */
const BEGIN: Four = [
  [0.24, 0.86],
  [0.76, 0.86],
  [0.64, 0.66],
  [0.36, 0.66],
];
const NAMES = ["nearer left", "nearer right", "far right", "far left"];
const CELLS = 4;
const ARROWS: Record<string, Place> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
/** Shares of the picture that an arrow key moves a corner by; with Shift, ten times as far. */
const STEP = 0.001;

/** A grid whose corners are dragged until it lies on the ground: the camera stands where it looks so. */
export function GridCorners() {
  const session = useSession();
  const focal = useView((s) => s.focal);
  const [corners, setCorners] = useState<Four>(BEGIN);
  const [side, setSide] = useState({ width: 4, depth: 4 });
  const held = useRef<number | null>(null);
  const latest = useRef(corners);
  const fits = useFits(corners, side, focal);

  const move = (corner: number, to: Place) => {
    latest.current = latest.current.map((at, k) => (k === corner ? to : at)) as Four;
    setCorners(latest.current);
  };
  const dragged = (event: PointerEvent<HTMLElement>) => {
    if (held.current === null) return;
    event.stopPropagation();
    const box = event.currentTarget.parentElement!.getBoundingClientRect();
    move(held.current, [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]);
  };
  const nudged = (event: KeyboardEvent, corner: number) => {
    const by = ARROWS[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const far = STEP * (event.shiftKey ? 10 : 1);
    const [x, y] = latest.current[corner]!;
    move(corner, [x + by[0] * far, y + by[1] * far]);
  };
  const take = () => {
    const body = { places: latest.current, ...side, focal_length: focal };
    const params = { path: { shot: session.id } };
    void session
      .offered(() => got(api.POST("/api/shots/{shot}/plate/rectangle", { params, body })))
      .then((ok) => ok && look({ picking: null }));
  };

  return (
    <div
      className="plate-corners"
      role="application"
      aria-label="A grid to be laid on the ground"
      onPointerDown={(e) => e.stopPropagation()}
      onPointerUp={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") look({ picking: null });
        if (e.key === "Enter" && fits) take();
      }}
    >
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
        {fits?.map((line, k) => (
          <polyline key={k} points={line.map((p) => p.join()).join(" ")} />
        ))}
        <polygon points={corners.map((p) => p.join()).join(" ")} />
      </svg>
      {corners.map(([x, y], k) => (
        <button
          key={k}
          className="grid-corner"
          aria-label={`${NAMES[k]} corner`}
          autoFocus={k === 0}
          style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
          onPointerDown={(e) => {
            e.stopPropagation();
            e.currentTarget.setPointerCapture(e.pointerId);
            held.current = k;
          }}
          onPointerMove={dragged}
          onPointerUp={(e) => {
            e.stopPropagation();
            held.current = null;
          }}
          onKeyDown={(e) => nudged(e, k)}
        />
      ))}
      <div className="plate-says">
        {fits ? "Drag the corners until the grid lies on the ground" : "No camera sees a rectangle so"}
        <Metres onChange={setSide} />
        <button className="motion" disabled={!fits} onClick={take}>
          Take it
        </button>
        <span className="muted">Escape ends</span>
      </div>
    </div>
  );
}

/** How wide and deep the grid is, in one field. */
function Metres({ onChange }: { onChange: (side: { width: number; depth: number }) => void }) {
  return (
    <label>
      metres{" "}
      <input
        className="plain-input"
        aria-label="Its width and depth in metres"
        defaultValue="4 × 4"
        onKeyDown={(e) => e.key !== "Escape" && e.key !== "Enter" && e.stopPropagation()}
        onChange={(e) => {
          const [width = 0, depth = width] = e.target.value
            .replace(/,/g, ".")
            .split(/[×x*; ]+/)
            .map(Number);
          if (width > 0 && depth > 0) onChange({ width, depth });
        }}
      />
    </label>
  );
}

/** Lines of the grid as a camera would see them; none where no camera sees a rectangle so. */
function useFits(places: Four, side: { width: number; depth: number }, focal: number | null) {
  const session = useSession();
  const [lines, setLines] = useState<Place[][] | null>(null);
  const wish = JSON.stringify({ places, ...side, focal_length: focal, cells: CELLS });
  useEffect(() => {
    const gone = new AbortController();
    got(
      api.POST("/api/shots/{shot}/plate/rectangle/grid", {
        params: { path: { shot: session.id } },
        body: JSON.parse(wish) as { places: Four; width: number; depth: number; cells: number },
        signal: gone.signal,
      }),
    )
      .then((found) => setLines(found as Place[][]))
      .catch(() => gone.signal.aborted || setLines(null));
    return () => gone.abort();
  }, [session, wish]);
  return lines;
}
