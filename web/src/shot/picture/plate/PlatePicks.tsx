import { useState, type PointerEvent } from "react";
import { api, got } from "../../../api/client";
import { say } from "../../../parts/notices";
import { useSession, useShotState } from "../../document/context";
import { look, useView, type Picking } from "../../view";
import { useListed } from "../../things";

type Place = [number, number];

/** How many picks are taken at once; the others end with Enter. */
const TAKEN: Partial<Record<Picking, number>> = {
  origin: 1,
  stand: 1,
  direction: 2,
  horizon: 2,
  box: 2,
  crate: 4,
};
/** After so many picks lengths are asked for. */
const MEASURED: Partial<Record<Picking, number>> = { distance: 2, rectangle: 4 };
const RECTANGLE = ["its nearer left corner", "its nearer right one", "the one behind that", "the last one"];
const CRATE = [
  "a corner of its foot",
  "the next corner along its front",
  "the corner behind that one",
  "its top, over the first corner",
];
const SUN = ["the foot of something upright", "its tip", "the tip of its shadow"];

const says = (what: Picking, count: number, strokes: number): string => {
  if (what === "ground")
    return count < 3 ? `Pick a point on the ground (${count} of 3)` : "Enter takes them, or pick more";
  if (what === "patch" || what === "cover")
    return count < 3
      ? `Pick the corners of ${what === "patch" ? "something flat" : "what stands before the words"} (${count} of 3 or more)`
      : "Enter takes them, or pick more";
  if (what === "box") return "Drag a box around points on the ground";
  if (what === "horizon") return `Pick a place on the horizon (${count} of 2)`;
  if (what === "origin") return "Pick the place on the ground that is 0, 0, 0";
  if (what === "distance") return count < 2 ? `Pick a point (${count} of 2)` : "How far apart are they?";
  if (what === "direction") return `Pick a point along an edge (${count} of 2)`;
  if (what === "stand") return "Click the ground where it is to stand";
  if (what === "crate") return `Pick ${CRATE[count % 4]}`;
  if (what === "rectangle")
    return count < 4
      ? `Pick the rectangle on the ground: ${RECTANGLE[count]}`
      : "How wide and how deep is it? Such as 2.4 × 1.2";
  if (what === "sun")
    return `Pick ${SUN[count % 3]}${count >= 3 && count % 3 === 0 ? ", or Enter takes them" : ""}`;
  return strokes === 0 ? "Stroke over ground in light" : "Stroke over the same ground in shade";
};

/** Picks in the picture of a plate: what is picked next is said, Enter takes it, Backspace takes one back, Escape ends. */
export function PlatePicks({ what }: { what: Picking }) {
  const session = useSession();
  const frame = useView((s) => s.frame);
  const standing = useView((s) => s.standing);
  const key = useShotState((s) => s.scene?.facts.behind_key ?? "");
  const first = useListed().find(({ kind }) => kind === "title")?.key;
  const [places, setPlaces] = useState<Place[]>([]);
  const [strokes, setStrokes] = useState<Place[][]>([]);
  const [at, setAt] = useState<Place | null>(null);
  const [drawing, setDrawing] = useState(false);
  const [following, setFollowing] = useState(false);
  const draws = what === "shadow" || what === "box";
  const params = { path: { shot: session.id } };

  const done = (ok: boolean) => {
    setPlaces([]);
    setStrokes([]);
    if (ok && what !== "stand") look({ picking: null });
  };
  const align = (
    kind: "ground" | "origin" | "distance" | "direction",
    of: Place[],
    metres = 1.6,
    box = false,
  ) =>
    session
      .offered(() =>
        got(
          api.POST("/api/shots/{shot}/plate/align", {
            params,
            body: { what: kind, frame, places: of, metres, box },
          }),
        ),
      )
      .then(done);

  /** That takes a while: what is being done is said meanwhile. */
  async function follow(of: Place[]) {
    setFollowing(true);
    const ok = await session.offered(async () => {
      const { found, frames } = await got(
        api.POST("/api/shots/{shot}/plate/patches", { params, body: { frame, points: of } }),
      );
      say(
        found === frames
          ? "The area was followed through the whole plate"
          : `The area was followed through ${found} of ${frames} frames; in the others it is lost`,
      );
    });
    setFollowing(false);
    done(ok);
  }

  function take(of: Place[], metres?: number, deep?: number) {
    if (what === "ground") void align("ground", of);
    else if (what === "patch") void follow(of);
    else if (what === "cover")
      void session
        .offered(() =>
          got(api.POST("/api/shots/{shot}/plate/covers", { params, body: { frame, points: of } })),
        )
        .then(done);
    else if (what === "horizon") void align("ground", of);
    else if (what === "box") void align("ground", of, 1, true);
    else if (what === "origin" || what === "direction") void align(what, of);
    else if (what === "distance" && metres) void align("distance", of, metres);
    else if (what === "stand")
      void session
        .offered(() =>
          got(
            api.POST("/api/shots/{shot}/plate/stand", {
              params,
              body: { thing: standing ?? first ?? "", frame, place: of[0]!, facing: true },
            }),
          ),
        )
        .then(done);
    else if (what === "rectangle" && metres && deep)
      void session
        .offered(() =>
          got(
            api.POST("/api/shots/{shot}/plate/rectangle", {
              params,
              body: { places: of as [Place, Place, Place, Place], width: metres, depth: deep },
            }),
          ),
        )
        .then(done);
    else if (what === "crate")
      void session
        .offered(() =>
          got(
            api.POST("/api/shots/{shot}/plate/box", {
              params,
              body: { frame, places: of as [Place, Place, Place, Place] },
            }),
          ),
        )
        .then(done);
    else if (what === "sun")
      void session
        .offered(async () => {
          const picks = Array.from({ length: Math.floor(of.length / 3) }, (_, k) =>
            of.slice(3 * k, 3 * k + 3),
          );
          const { spread } = await got(
            api.POST("/api/shots/{shot}/plate/sun", {
              params,
              body: { frame, picks: picks as [Place, Place, Place][] },
            }),
          );
          say(
            picks.length > 1
              ? `The sun stands there; picks differ by ${spread.toFixed(1)}°`
              : "The sun stands there",
          );
        })
        .then(done);
  }

  function stroked(of: Place[][]) {
    if (what === "box") {
      take([of[0]![0]!, of[0]![of[0]!.length - 1]!]);
      return;
    }
    if (of.length < 2) return;
    void session
      .offered(async () => {
        const { left } = await got(
          api.POST("/api/shots/{shot}/plate/shadow", { params, body: { frame, lit: of[0]!, shade: of[1]! } }),
        );
        say(
          `Left in shadow: ${left.map((v) => `${(100 * v).toFixed(0)} %`).join(", ")} of red, green and blue`,
        );
      })
      .then(done);
  }

  function picked(place: Place) {
    const next = [...places, place];
    setPlaces(next);
    if (next.length === TAKEN[what]) take(next);
  }

  const where = (event: PointerEvent<HTMLElement>): Place => {
    const box = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  };
  const ready = !following && ["ground", "sun", "patch", "cover"].includes(what) && places.length >= 3;
  const closed = what === "patch" || what === "cover";
  const box = what === "box" && strokes[0] ? [strokes[0][0]!, strokes[0][strokes[0].length - 1]!] : null;
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
        } else if (!draws && !following && places.length < (MEASURED[what] ?? 99)) picked(where(e));
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
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
        {!box &&
          strokes.map((stroke, k) => (
            <polyline
              key={k}
              className={k ? "shade" : "lit"}
              points={stroke.map((p) => p.join()).join(" ")}
            />
          ))}
        {closed && places.length > 2 && <polygon points={places.map((p) => p.join()).join(" ")} />}
        {what !== "sun" && places.length > 1 && <polyline points={places.map((p) => p.join()).join(" ")} />}
        {what === "sun" &&
          Array.from({ length: Math.ceil(places.length / 3) }, (_, k) => (
            <polyline
              key={k}
              points={places
                .slice(3 * k, 3 * k + 3)
                .map((p) => p.join())
                .join(" ")}
            />
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
      {at && !draws && (
        <Loupe at={at} address={`/api/shots/${session.id}/plate/frame?frame=${frame}&as=${key}`} />
      )}
      <div
        className="plate-says"
        onPointerDown={(e) => e.stopPropagation()}
        onPointerUp={(e) => e.stopPropagation()}
      >
        {following ? "Following it through the plate …" : says(what, places.length, strokes.length)}
        {places.length === MEASURED[what] && (
          <input
            className="plain-input"
            aria-label={what === "distance" ? "Metres between them" : "Its width and depth in metres"}
            placeholder={what === "distance" ? "metres" : "2.4 × 1.2"}
            autoFocus
            onKeyDown={(e) => {
              e.stopPropagation();
              const [metres = 0, deep = 0] = e.currentTarget.value
                .replace(/,/g, ".")
                .split(/[×x*; ]+/)
                .map(Number);
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
