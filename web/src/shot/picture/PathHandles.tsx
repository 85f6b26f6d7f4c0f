import { useSession, useShotState } from "../document/context";
import { handleAt, joined, putHandle, type Side, type Triple } from "../document/handles";
import type { Scene } from "../document/scene";
import { wayInRoom, wayWithin, type Point } from "../document/spaces";
import type { Listed } from "../things";
import type { Project } from "./across";
import { useDragAcross } from "./useDragAcross";

interface Props {
  scene: Scene;
  thing: Listed;
  /** Address of the place whose keys these are. */
  at: string;
  frame: number;
  where: (frame: number) => Point;
  project: Project;
  /** Whose space its place is told in: its own key, where nothing else is said. */
  space?: string;
}

const SIDES: Side[] = ["back", "out"];
const plus = (a: Point, b: Point) => a.map((value, k) => value + b[k]!) as Point;

/** How a path comes to and leaves one of its keys: two handles, joined unless Alt is held. */
export function PathHandles(props: Props) {
  return SIDES.map((side) => <PathHandle key={side} {...props} side={side} />);
}

function PathHandle({
  scene,
  thing,
  at,
  frame,
  where,
  project,
  space = thing.key,
  side,
}: Props & { side: Side }) {
  const session = useSession();
  const shot = useShotState((s) => s.shot);
  const drag = useDragAcross<Triple>(project, (way, from, gesture, event) => {
    const now = session.store.getState().shot!;
    const put = plus(from, wayWithin(scene, space, frame, way)) as Triple;
    const opposite = side === "out" ? "back" : "out";
    const other = event.altKey ? null : handleAt(now, at, frame, opposite);
    session.edit(
      [
        ...putHandle(now, at, frame, side, put),
        ...(other ? putHandle(now, at, frame, opposite, joined(put, other)) : []),
      ],
      gesture,
    );
  });
  const far = shot && handleAt(shot, at, frame, side);
  if (!far || Math.hypot(...far) < 1e-6) return null;
  const end = plus(where(frame), wayInRoom(scene, space, frame, far));
  const [from, to] = [project(where(frame)), project(end)];
  if (!from || !to) return null;

  return (
    <>
      <path className="way-arm" d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}`} />
      <path
        className="way-handle"
        role="button"
        aria-label={`Handle ${side === "out" ? "leaving" : "reaching"} frame ${frame} of ${thing.name}`}
        d={`M${to[0]} ${to[1]}h0`}
        onPointerDown={(event) => drag.take(event, end, far)}
        {...drag.handlers}
      >
        <title>Drag to bend the path; Alt bends this side alone</title>
      </path>
    </>
  );
}
