import { useState } from "react";
import { api, got } from "../../../api/client";
import { withShare } from "../../../api/live";
import { say } from "../../../parts/notices";
import { useSession } from "../../document/context";
import { useView } from "../../view";
import type { Place } from "./taking";

/** What is followed through the plate, or fitted anew: it takes seconds, and is said meanwhile. */
export function useFollowing(done: (ok: boolean) => void) {
  const session = useSession();
  const frame = useView((s) => s.frame);
  /** Which share is done of what is being followed; null while nothing is. */
  const [following, setFollowing] = useState<number | null>(null);
  /** The point that was added last: a click in another frame goes on with it. */
  const [point, setPoint] = useState<number | null>(null);
  const params = { path: { shot: session.id } };

  async function offered(make: (knownAs: string) => Promise<void>) {
    setFollowing(0);
    const ok = await session.offered(() => withShare(setFollowing, make));
    setFollowing(null);
    done(ok);
  }

  const follow = (of: Place[]) =>
    offered(async (knownAs) => {
      const { found, frames } = await got(
        api.POST("/api/shots/{shot}/plate/patches", {
          params: { ...params, query: { known_as: knownAs } },
          body: { frame, points: of },
        }),
      );
      say(
        found === frames
          ? "The area was followed through the whole plate"
          : `The area was followed through ${found} of ${frames} frames; in the others it is lost`,
      );
    });

  const leaveOut = (of: Place[]) =>
    offered(async () => {
      const { gone, before, after } = await got(
        api.POST("/api/shots/{shot}/plate/points/remove", {
          params,
          body: { frame, box: [of[0]!, of[1]!] },
        }),
      );
      const misses = `${after.toFixed(2)} px, ${before.toFixed(2)} before`;
      say(`${gone} points are left out; the others miss by ${misses}`);
    });

  const addPoint = (of: Place[]) =>
    offered(async (knownAs) => {
      const added = await got(
        api.POST("/api/shots/{shot}/plate/points/add", {
          params: { ...params, query: { known_as: knownAs } },
          body: { frame, place: of[0]!, point },
        }),
      );
      const seen = `It is seen in ${added.seen} of ${added.frames} frames and misses by ${added.off.toFixed(2)} px`;
      const lost = added.seen < added.frames;
      setPoint(lost ? added.point : null);
      say(lost ? `${seen}; click it in another frame to go on with it, or Escape ends` : seen);
    });

  return { following, follow, leaveOut, addPoint };
}
