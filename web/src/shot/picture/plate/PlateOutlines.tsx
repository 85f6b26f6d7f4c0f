import { useCallback, useEffect, useState, type PointerEvent } from "react";
import { api, got, type Schemas } from "../../../api/client";
import { useAt, useSession } from "../../document/context";

type Place = [number, number];
type Seen = Schemas["OutlinesSeen"];

/** Below so much likeness an area that is followed is drawn as lost. */
const LOST = 0.01;

/**
 * Outlines at a frame, asked for again when something is drawn or changed; `onSeen` is told when they are
 * here.
 */
function useOutlines(frame: number, onSeen: () => void): Seen | null {
  const session = useSession();
  const signature = JSON.stringify([useAt("/plate/patches"), useAt("/plate/covers"), useAt("/plate/first")]);
  const drawn = signature !== "[[],[],0]";
  const [seen, setSeen] = useState<Seen | null>(null);
  useEffect(() => {
    if (!drawn) {
      setSeen(null);
      return;
    }
    let wanted = true;
    const at = { params: { path: { shot: session.id }, query: { frame } } };
    session
      .settled()
      .then(() => got(api.GET("/api/shots/{shot}/plate/outlines", at)))
      .then((found) => {
        if (!wanted) return;
        setSeen(found as Seen);
        onSeen();
      })
      .catch(() => {});
    return () => {
      wanted = false;
    };
  }, [session, frame, signature, drawn, onSeen]);
  return seen;
}

/**
 * Outlines of what is drawn in a plate as they are at a frame; points of covers are dragged, and are drawn
 * there then.
 */
export function PlateOutlines({ frame, busy }: { frame: number; busy: boolean }) {
  const session = useSession();
  const [held, setHeld] = useState<{ cover: number; points: Place[] } | null>(null);
  const release = useCallback(() => setHeld(null), []);
  const seen = useOutlines(frame, release);
  if (!seen) return null;

  const take = (cover: number, points: Place[]) =>
    void session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/plate/covers", {
          params: { path: { shot: session.id } },
          body: { frame, points, index: cover },
        }),
      ),
    );
  const dragged = (
    event: PointerEvent<HTMLElement>,
    cover: number,
    point: number | null,
    points: Place[],
  ) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const target = event.currentTarget;
    const box = target.parentElement!.getBoundingClientRect();
    const begin = [event.clientX, event.clientY];
    target.setPointerCapture(event.pointerId);
    let now = points;
    const moved = (e: globalThis.PointerEvent) => {
      const by: Place = [(e.clientX - begin[0]!) / box.width, (e.clientY - begin[1]!) / box.height];
      now = points.map((p, k) => (point === null || k === point ? [p[0] + by[0], p[1] + by[1]] : p));
      setHeld({ cover, points: now });
    };
    const ended = (e: globalThis.PointerEvent) => {
      // The picture beneath is not what was clicked.
      e.stopPropagation();
      target.removeEventListener("pointermove", moved);
      target.removeEventListener("pointerup", ended);
      target.removeEventListener("pointercancel", ended);
      if (now !== points) take(cover, now);
    };
    target.addEventListener("pointermove", moved);
    target.addEventListener("pointerup", ended);
    target.addEventListener("pointercancel", ended);
  };

  const covers = seen.covers.map((cover, k) => ({
    ...cover,
    points: held?.cover === k ? held.points : (cover.points as Place[]),
  }));
  return (
    <div className="plate-outlines">
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
        {seen.patches.map((patch, k) => (
          <polygon
            key={k}
            className={patch.alike > LOST ? "area" : "area lost"}
            points={patch.points.map((p) => p.join()).join(" ")}
          />
        ))}
        {covers.map((cover, k) => (
          <polygon
            key={k}
            className={cover.drawn ? "cover" : "cover between"}
            points={cover.points.map((p) => p.join()).join(" ")}
          />
        ))}
      </svg>
      {seen.patches.map(
        (patch, k) =>
          patch.points.length > 0 && (
            <span
              key={k}
              className={patch.alike > LOST ? "area-name" : "area-name lost"}
              style={{
                left: `${100 * Math.min(...patch.points.map((p) => p[0]))}%`,
                top: `${100 * Math.min(...patch.points.map((p) => p[1]))}%`,
              }}
            >
              {patch.name}
              {patch.alike > LOST ? "" : " is lost here"}
            </span>
          ),
      )}
      {!busy &&
        covers.map((cover, k) => (
          <Points
            key={k}
            name={cover.name}
            points={cover.points}
            onDrag={(event, point) => dragged(event, k, point, cover.points)}
          />
        ))}
    </div>
  );
}

/** Corners of a cover, and its middle, to take. */
function Points({
  name,
  points,
  onDrag,
}: {
  name: string;
  points: Place[];
  onDrag: (event: PointerEvent<HTMLElement>, point: number | null) => void;
}) {
  if (!points.length) return null;
  const mean = (axis: 0 | 1) => points.reduce((sum, p) => sum + p[axis], 0) / points.length;
  return (
    <>
      {points.map(([x, y], k) => (
        <i
          key={k}
          className="cover-point"
          title={`${name}: drag the corner, it is drawn at this frame then`}
          style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
          onPointerDown={(e) => onDrag(e, k)}
        />
      ))}
      <i
        className="cover-point whole"
        title={`${name}: drag all of it`}
        style={{ left: `${100 * mean(0)}%`, top: `${100 * mean(1)}%` }}
        onPointerDown={(e) => onDrag(e, null)}
      />
    </>
  );
}
