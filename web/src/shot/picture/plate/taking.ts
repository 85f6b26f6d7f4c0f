import { api, got } from "../../../api/client";
import { say } from "../../../parts/notices";
import { useSession } from "../../document/context";
import { useListed } from "../../things";
import { useView, type Picking } from "../../view";
import { useFollowing } from "./useFollowing";

export type Place = [number, number];
type Four = [Place, Place, Place, Place];

/** What is made of places picked in the picture; each is an edit that the core offers. */
export interface Taking {
  /** Which share is done of what is followed through the plate, or fitted anew; null while nothing is. */
  following: number | null;
  take: (of: Place[], metres?: number, deep?: number) => void;
  measureShadow: (lit: Place[], shade: Place[]) => void;
}

export function useTaking(what: Picking, done: (ok: boolean) => void): Taking {
  const session = useSession();
  const frame = useView((s) => s.frame);
  const standing = useView((s) => s.standing);
  const focal = useView((s) => s.focal);
  const first = useListed().find(({ kind }) => kind === "title")?.key;
  const thing = standing ?? first ?? "";
  const { following, follow, leaveOut, addPoint } = useFollowing(done);
  const params = { path: { shot: session.id } };
  const offer = (make: () => Promise<unknown>) => void session.offered(make).then(done);

  const align = (
    kind: "ground" | "origin" | "distance" | "direction",
    of: Place[],
    metres = 1.6,
    box = false,
  ) =>
    offer(() =>
      got(
        api.POST("/api/shots/{shot}/plate/align", {
          params,
          body: { what: kind, frame, places: of, metres, box },
        }),
      ),
    );

  async function sun(of: Place[]) {
    const count = Math.floor(of.length / 3);
    const picks = Array.from({ length: count }, (_, k) => of.slice(3 * k, 3 * k + 3));
    const { spread } = await got(
      api.POST("/api/shots/{shot}/plate/sun", {
        params,
        body: { frame, picks: picks as [Place, Place, Place][] },
      }),
    );
    say(count > 1 ? `The sun stands there; picks differ by ${spread.toFixed(1)}°` : "The sun stands there");
  }

  const stand = (of: Place[]) =>
    offer(() =>
      got(
        api.POST("/api/shots/{shot}/plate/stand", {
          params,
          body: { thing, frame, places: of, facing: true },
        }),
      ),
    );

  const takers: Partial<Record<Picking, (of: Place[], metres: number, deep: number) => void>> = {
    ground: (of) => align("ground", of),
    horizon: (of) => align("ground", of),
    box: (of) => align("ground", of, 1, true),
    origin: (of) => align("origin", of),
    direction: (of) => align("direction", of),
    distance: (of, metres) => metres && align("distance", of, metres),
    patch: (of) => void follow(of),
    cover: (of) =>
      offer(() => got(api.POST("/api/shots/{shot}/plate/covers", { params, body: { frame, points: of } }))),
    stand,
    line: stand,
    far: (of, metres, share) => {
      const body = { thing, frame, place: of[0]!, metres, share: share / 100 };
      if (metres && share) offer(() => got(api.POST("/api/shots/{shot}/plate/far", { params, body })));
    },
    wall: (of) => {
      const body = { frame, places: of as [Place, Place, Place] };
      offer(() => got(api.POST("/api/shots/{shot}/plate/wall", { params, body })));
    },
    spot: (of) => void addPoint(of),
    rectangle: (of, width, depth) => {
      const body = { places: of as Four, width, depth, focal_length: focal };
      if (width && depth) offer(() => got(api.POST("/api/shots/{shot}/plate/rectangle", { params, body })));
    },
    edges: (of) => {
      const lines = [0, 2, 4, 6].map((k) => [of[k]!, of[k + 1]!] as [Place, Place]);
      const body = { along: lines.slice(0, 2), other: lines.slice(2), focal_length: focal };
      offer(() => got(api.POST("/api/shots/{shot}/plate/edges", { params, body })));
    },
    points: (of) => void leaveOut(of),
    crate: (of) => {
      const body = { frame, places: of as Four };
      offer(() => got(api.POST("/api/shots/{shot}/plate/box", { params, body })));
    },
    sun: (of) => offer(() => sun(of)),
  };

  const measureShadow = (lit: Place[], shade: Place[]) =>
    offer(async () => {
      const { left } = await got(
        api.POST("/api/shots/{shot}/plate/shadow", { params, body: { frame, lit, shade } }),
      );
      const shares = left.map((v) => `${(100 * v).toFixed(0)} %`).join(", ");
      say(`Left in shadow: ${shares} of red, green and blue; the sun is weighed by it`);
    });

  return { following, take: (of, metres = 0, deep = 0) => takers[what]?.(of, metres, deep), measureShadow };
}
