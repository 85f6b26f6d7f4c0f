import { useRef, useState, type PointerEvent } from "react";
import { useSession, useShotState } from "../../document/context";
import { look, useView, type Picking } from "../../view";
import { ASKED, LINES, MEASURED, TAKEN, says } from "./saying";
import { useTaking, type Place, type Taking } from "./taking";

/**
 * Picks in the picture of a plate: what is picked next is said, Enter takes it, Backspace takes one back,
 * Escape ends.
 */
export function PlatePicks({ what }: { what: Picking }) {
  const session = useSession();
  const frame = useView((s) => s.frame);
  const key = useShotState((s) => s.scene?.facts.behind_key ?? "");
  const [places, setPlaces] = useState<Place[]>([]);
  const [strokes, setStrokes] = useState<Place[][]>([]);
  const [at, setAt] = useState<Place | null>(null);
  const [drawing, setDrawing] = useState(false);
  const pressed = useRef<Place | null>(null);
  const boxed = what === "box" || what === "points";
  const draws = what === "shadow" || boxed;
  const taking = useTaking(what, (ok) => {
    // What was refused stays, to be mended.
    setPlaces((there) => (ok ? [] : there.length === TAKEN[what] ? there.slice(0, -1) : there));
    setStrokes([]);
    if (ok && what !== "stand" && what !== "spot") look({ picking: null });
  });
  const { following, take } = taking;

  function stroked([one, other]: Place[][]) {
    if (boxed) take([one![0]!, one!.at(-1)!]);
    else if (one && other) taking.measureShadow(one, other);
  }

  function picked(...also: Place[]) {
    const next = [...places, ...also];
    setPlaces(next);
    if (next.length === TAKEN[what]) take(next);
  }

  const where = (event: PointerEvent<HTMLElement>): Place => {
    const box = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  };
  const ready =
    following === null && ["ground", "sun", "patch", "cover"].includes(what) && places.length >= 3;
  return (
    <div
      className="plate-picks"
      role="application"
      aria-label={says(what, places.length, strokes.length)}
      tabIndex={0}
      ref={(node) => {
        if (node && !node.contains(document.activeElement)) node.focus();
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        if (e.button !== 0) return;
        pressed.current = where(e);
        if (!draws) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrawing(true);
        setStrokes([...strokes, [where(e)]]);
      }}
      onPointerMove={(e) => {
        e.stopPropagation();
        const place = where(e);
        setAt(place);
        if (drawing) setStrokes([...strokes.slice(0, -1), [...strokes[strokes.length - 1]!, place]]);
      }}
      onPointerLeave={() => setAt(null)}
      onPointerUp={(e) => {
        e.stopPropagation();
        if (e.button !== 0) return;
        if (drawing) {
          setDrawing(false);
          stroked(strokes);
        } else if (!draws && following === null && places.length < (MEASURED[what] ?? 99))
          picked(...endsOf(what, places.length, pressed.current, where(e)));
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") look({ picking: null });
        else if (e.key === "Backspace") {
          setPlaces(places.slice(0, -1));
          setStrokes(strokes.slice(0, -1));
        } else if (e.key === "Enter" && ready) take(places);
        else return;
        e.stopPropagation();
      }}
    >
      <Picked what={what} places={places} strokes={strokes} />
      {at && !draws && (
        <Loupe at={at} address={`/api/shots/${session.id}/plate/frame?frame=${frame}&as=${key}`} />
      )}
      <Saying what={what} places={places} strokes={strokes.length} ready={ready} taking={taking} />
    </div>
  );
}

/** A drag of a line's first end is both its ends; the place let go of otherwise. */
const endsOf = (what: Picking, count: number, from: Place | null, to: Place): Place[] =>
  from && LINES.includes(what) && count % 2 === 0 && Math.hypot(from[0] - to[0], from[1] - to[1]) > 0.03
    ? [from, to]
    : [to];

/** What has been picked so far. */
function Picked({ what, places, strokes }: { what: Picking; places: Place[]; strokes: Place[][] }) {
  const closed = what === "patch" || what === "cover";
  const box =
    (what === "box" || what === "points") && strokes[0]
      ? [strokes[0][0]!, strokes[0][strokes[0].length - 1]!]
      : null;
  const row = (of: Place[]) => of.map((p) => p.join()).join(" ");
  return (
    <>
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
        {!box &&
          strokes.map((stroke, k) => (
            <polyline key={k} className={k ? "shade" : "lit"} points={row(stroke)} />
          ))}
        {closed && places.length > 2 && <polygon points={row(places)} />}
        {what === "edges" &&
          places.map((p, k) => k % 2 === 1 && <polyline key={k} points={row([places[k - 1]!, p])} />)}
        {what !== "sun" && what !== "edges" && places.length > 1 && <polyline points={row(places)} />}
        {what === "sun" &&
          Array.from({ length: Math.ceil(places.length / 3) }, (_, k) => (
            <polyline key={k} points={row(places.slice(3 * k, 3 * k + 3))} />
          ))}
        {box && (
          <rect
            x={Math.min(box[0]![0], box[1]![0])}
            y={Math.min(box[0]![1], box[1]![1])}
            width={Math.abs(box[1]![0] - box[0]![0])}
            height={Math.abs(box[1]![1] - box[0]![1])}
          />
        )}
      </svg>
      {places.map(([x, y], k) => (
        <i key={k} className="plate-pick" style={{ left: `${100 * x}%`, top: `${100 * y}%` }} />
      ))}
    </>
  );
}

const WORKS: Partial<Record<Picking, string>> = { points: "Fitting the camera to the others …" };

/** What is picked next, and the length that is asked for after the last one. */
function Saying({
  what,
  places,
  strokes,
  ready,
  taking: { following, take },
}: {
  what: Picking;
  places: Place[];
  strokes: number;
  ready: boolean;
  taking: Taking;
}) {
  return (
    <div
      className="plate-says"
      onPointerDown={(e) => e.stopPropagation()}
      onPointerUp={(e) => e.stopPropagation()}
    >
      {following === null
        ? says(what, places.length, strokes)
        : (WORKS[what] ?? `Following it through the plate … ${Math.round(100 * following)} %`)}
      {places.length === MEASURED[what] && (
        <input
          className="plain-input"
          aria-label={ASKED[what]?.[0]}
          placeholder={ASKED[what]?.[1]}
          autoFocus
          onKeyDown={(e) => {
            e.stopPropagation();
            const said = e.currentTarget.value.replace(/,/g, ".");
            const [metres = 0, deep = 0] = said.split(/[×x*; ]+/).map(Number);
            if (e.key === "Enter" && metres > 0) take(places, metres, deep);
            if (e.key === "Escape") look({ picking: null });
          }}
        />
      )}
      {ready && (
        <button className="motion" onClick={() => take(places)}>
          Take them
        </button>
      )}
      <span className="muted"> Backspace takes one back, Escape ends</span>
    </div>
  );
}

const LARGER = 5;

/** What is under the pointer, larger. */
function Loupe({ at: [x, y], address }: { at: Place; address: string }) {
  return (
    <i
      className="plate-loupe"
      aria-hidden="true"
      style={{
        left: `${100 * x}%`,
        top: `${100 * y}%`,
        ["--x" as string]: x,
        ["--y" as string]: y,
        ["--larger" as string]: LARGER,
        backgroundImage: `url("${address}")`,
      }}
      data-side={x > 0.5 ? "left" : "right"}
    />
  );
}
