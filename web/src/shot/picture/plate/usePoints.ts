import { useEffect, useState } from "react";
import { unpack } from "../../../api/block";
import { api, got, gotBytes } from "../../../api/client";
import { useAt, useSession } from "../../document/context";

export interface Points {
  xy: ArrayLike<number>;
  begin: ArrayLike<number>;
  off: ArrayLike<number>;
  moments: ArrayLike<number>;
}

/** The points that bear a solve, once a solve. */
export function usePoints(): Points | null {
  const session = useSession();
  const solve = String(useAt("/plate/solve") ?? "");
  const [points, setPoints] = useState<Points | null>(null);
  useEffect(() => {
    setPoints(null);
    if (!solve) return;
    const gone = new AbortController();
    void session
      .settled()
      .then(() => gotBytes(`/api/shots/${session.id}/plate/points`, { signal: gone.signal }))
      .then((bytes) => {
        const { arrays } = unpack(bytes);
        const data = (name: string) => arrays.get(name)!.data;
        setPoints({ xy: data("xy"), begin: data("begin"), off: data("off"), moments: data("moments") });
      })
      // Without them one only sees less.
      .catch(() => {});
    return () => gone.abort();
  }, [session, solve]);
  return points;
}

export type Line = [number, number][];

/** Lines of a grid on the ground as they are seen at a frame. */
export function useGrid(frame: number, wanted: boolean): Line[] {
  const session = useSession();
  const plate = JSON.stringify([useAt("/plate"), useAt("/camera/rig")]);
  const [lines, setLines] = useState<Line[]>([]);
  useEffect(() => {
    if (!wanted) return;
    let still = true;
    void session
      .settled()
      .then(() =>
        got(
          api.GET("/api/shots/{shot}/plate/grid", {
            params: { path: { shot: session.id }, query: { frame } },
          }),
        ),
      )
      .then((found) => still && setLines(found as Line[]))
      .catch(() => {});
    return () => {
      still = false;
    };
  }, [session, plate, frame, wanted]);
  return wanted ? lines : [];
}
