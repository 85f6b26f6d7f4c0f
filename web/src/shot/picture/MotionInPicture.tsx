import { type PointerEvent, type RefObject } from "react";
import { useChannels, useFormat, useSession, useShotState } from "../document/context";
import type { Scene } from "../document/scene";
import { wayWithin, type Point } from "../document/spaces";
import { keysOf, setKey } from "../document/values";
import { hull } from "../plot/geometry";
import { letterBoxes } from "../plot/letterBoxes";
import { placesOf, positionOf } from "../plot/places";
import { useListed, type Listed } from "../things";
import { look, samePointed, useView } from "../view";
import type { Place, Project } from "./across";
import type { LiveStage } from "./live/stage";
import { PathHandles } from "./PathHandles";
import { useDragAcross } from "./useDragAcross";
import { useDrawnPlaces } from "./useDrawnPlaces";

/** What is drawn of a movement, by what one chooses it as among the guides. */
export const PATH = "path of what is pointed at";
export const GHOSTS = "where it was and will be";

/** Frames between ghosts, and how many there are before and after. */
const APART = 4;
const COUNT = 3;
/** At most so many places of a path. */
const MOST = 400;

/** The way of what is pointed at through the picture, a tick a frame, and its outlines before and after. */
export function MotionInPicture({ stage }: { stage: RefObject<LiveStage | null> }) {
  const shown = useView((s) => s.guides);
  const pointed = useView((s) => s.pointed);
  const frame = useView((s) => s.frame);
  const scene = useShotState((s) => s.scene);
  const thing = useListed().find((one) => samePointed(one.pointed, pointed));
  useDrawnPlaces();
  const wanted = shown.includes(PATH) || shown.includes(GHOSTS);
  if (!wanted || !scene || !thing || thing.kind === "camera" || !stage.current) return null;
  const project = (point: Point): Place | null => {
    const place = stage.current?.seen.project(point);
    return place ? [place[0], place[1]] : null;
  };
  return (
    <svg
      className="motion-in-picture"
      viewBox="0 0 1 1"
      preserveAspectRatio="none"
      aria-label={`How ${thing.name} moves`}
    >
      {shown.includes(GHOSTS) && <Ghosts {...{ scene, thing, frame, project }} />}
      {shown.includes(PATH) && <Path {...{ scene, thing, project }} />}
    </svg>
  );
}

function Ghosts({
  scene,
  thing,
  frame,
  project,
}: {
  scene: Scene;
  thing: Listed;
  frame: number;
  project: Project;
}) {
  const { frames } = useFormat();
  if (!scene.has(`title/${thing.key}/matrix`)) return null;
  const steps = Array.from({ length: 2 * COUNT + 1 }, (_, k) => (k - COUNT) * APART).filter(
    (by) => by !== 0 && frame + by >= 0 && frame + by < frames,
  );
  return steps.map((by) => (
    <path
      key={by}
      className={by < 0 ? "ghost before" : "ghost after"}
      opacity={1 - (Math.abs(by) / APART - 1) / (COUNT + 0.5)}
      d={letterBoxes(scene, thing.key, frame + by)
        .map((box) => hull(box.map(project).filter((place) => place !== null)))
        .filter((ring) => ring.length > 2)
        .map((ring) => `M${ring.map((place) => place.join(" ")).join("L")}Z`)
        .join("")}
    >
      <title>{by < 0 ? `${-by} frames ago` : `in ${by} frames`}</title>
    </path>
  ));
}

function Path({ scene, thing, project }: { scene: Scene; thing: Listed; project: Project }) {
  const { frames } = useFormat();
  const present = useView((s) => s.frame);
  const channels = useChannels();
  const at = positionOf(thing);
  const where = placesOf(scene, thing);
  if (!where || !at) return null;
  const step = Math.max(1, Math.ceil(frames / MOST));
  const places = Array.from({ length: Math.ceil(frames / step) }, (_, k) => project(where(k * step)));
  const seen = places.filter((place) => place !== null);
  const [first] = seen;
  if (!first || seen.every(([x, y]) => Math.hypot(x - first[0], y - first[1]) < 0.002)) return null;
  const keyed = [
    ...new Set(
      ["x", "y", "z"].flatMap((axis) => channels[`${at}/${axis}`]?.keys.map((key) => key.frame) ?? []),
    ),
  ];
  return (
    <>
      <path className="way" d={`M${seen.map((place) => place.join(" ")).join("L")}`} />
      {step === 1 && seen.map(([x, y], k) => <path key={k} className="way-tick" d={`M${x} ${y}h0`} />)}
      {keyed.map((key) => (
        <WayKey key={key} {...{ scene, thing, at, where, project }} frame={key} />
      ))}
      {keyed.includes(present) && <PathHandles {...{ scene, thing, at, where, project }} frame={present} />}
    </>
  );
}

/** Where a thing is at one of its keys: dragged, it goes across the picture, as far away as it is. */
function WayKey({
  scene,
  thing,
  at,
  frame,
  where,
  project,
}: {
  scene: Scene;
  thing: Listed;
  at: string;
  frame: number;
  where: (frame: number) => Point;
  project: Project;
}) {
  const session = useSession();
  const present = useView((s) => s.frame === frame);
  const drag = useDragAcross<Point>(project, (way, from, gesture) => {
    const shot = session.store.getState().shot!;
    const own = wayWithin(scene, thing.key, frame, way);
    session.edit(
      (["x", "y", "z"] as const).flatMap((axis, k) =>
        // Only values that have a key here move; others go on as they do.
        Number.isNaN(from[k]!) || Math.abs(own[k]!) < 1e-9
          ? []
          : setKey(shot, `${at}/${axis}`, frame, Number((from[k]! + own[k]!).toFixed(4))),
      ),
      gesture,
    );
  });
  const place = project(where(frame));
  if (!place) return null;

  function start(event: PointerEvent<SVGPathElement>) {
    const shot = session.store.getState().shot!;
    const from = (["x", "y", "z"] as const).map(
      (axis) => keysOf(shot, `${at}/${axis}`).find((key) => key.frame === frame)?.value ?? NaN,
    ) as Point;
    drag.take(event, where(frame), from);
    look({ frame: Math.round(frame), playing: false });
  }
  return (
    <path
      className={`way-key${present ? " present" : ""}`}
      role="button"
      aria-label={`Where ${thing.name} is at frame ${frame}`}
      d={`M${place[0]} ${place[1]}h0`}
      onPointerDown={start}
      {...drag.handlers}
    >
      <title>{`Frame ${frame}: drag to move where it is then`}</title>
    </path>
  );
}
