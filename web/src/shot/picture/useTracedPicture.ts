import { useEffect } from "react";
import { useFormat, useSession, useShotState } from "../document/context";
import { look, useView, type Region } from "../view";
import { useTraced } from "./useTraced";

/** Frames that a kept picture may come late while it plays: half a second or less. */
const LATE = 12;

/**
 * The traced picture of what is looked at, pixel for pixel in a box of this width; `shown` where it stands
 * for the present frame.
 */
export function useTracedPicture(width: number) {
  const session = useSession();
  const format = useFormat();
  const frame = useView((s) => s.frame);
  const playing = useView((s) => s.playing);
  const tracing = useView((s) => s.traced);
  const show = useView((s) => s.show);
  const ahead = useView((s) => s.ahead);
  const region = useView((s) => s.region);
  const revision = useShotState((s) => (s.waiting ? -1 : s.revision));
  const across = Math.round(width * Math.min(window.devicePixelRatio, 2));
  const down = Math.max(16, Math.round((across * format.height) / format.width));
  useEffect(() => {
    if (across >= 32) look({ tracedSize: [across, down] });
  }, [across, down]);
  const wanted = tracing && (!playing || ahead);
  const picture = useTraced(
    session.id,
    wanted,
    playing,
    frame,
    revision,
    across,
    down,
    show,
    ahead && !playing ? format.frames : 0,
    region === "choose" || playing ? null : region,
  );
  // While it plays, a kept picture may come a moment late: better than to go to and fro between two views.
  const near = playing
    ? Math.abs(picture.frame - frame) <= LATE && picture.samples >= picture.total
    : picture.frame === frame;
  const shown = wanted && picture.address !== null && near && picture.revision === revision;
  useEffect(() => {
    if (shown) look({ shown: true });
  }, [shown]);
  return { picture, shown, width: across, height: down };
}

/** Where a part of the picture lies. */
export const placeOf = ([x, y, w, h]: Region) => ({
  left: `${x * 100}%`,
  top: `${y * 100}%`,
  width: `${w * 100}%`,
  height: `${h * 100}%`,
});
