import { useCallback, useEffect, useState } from "react";
import { useOpen } from "../context";
import { useSequenceView } from "../view";
import { LiveShot } from "./LiveShot";
import { nextOther, recent, shotFrame, stretchAt, type Stretch } from "./stretches";

// A browser keeps few pictures of this kind at once.
const MOST = 3;

/** Shots whose live pictures are held: the present one, the one that comes next, and the latest. */
export function useLiveShots(wanted: boolean): {
  stretch: Stretch | undefined;
  held: string[];
  ready: boolean;
  onReady: (shot: string, ready: boolean) => void;
} {
  const { live } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const [held, setHeld] = useState<string[]>([]);
  const [drawn, setDrawn] = useState<Record<string, boolean>>({});
  const stretch = wanted ? stretchAt(live, frame) : undefined;
  const present = stretch?.shot;
  const ready = present !== undefined && held.includes(present) && drawn[present] === true;
  // What comes next does not hold up what is here.
  const next = ready ? nextOther(live, frame)?.shot : undefined;
  useEffect(
    () =>
      setHeld((before) =>
        recent(
          before,
          [next, present].filter((name) => name !== undefined),
          MOST,
        ),
      ),
    [present, next],
  );
  const onReady = useCallback(
    (shot: string, ready: boolean) =>
      setDrawn((before) => (before[shot] === ready ? before : { ...before, [shot]: ready })),
    [],
  );
  return { stretch, held: wanted ? held : [], ready, onReady };
}

/** Live pictures, one over the other; the present one is seen. */
export function LiveShots({
  held,
  stretch,
  seen,
  onReady,
}: {
  held: string[];
  stretch: Stretch | undefined;
  seen: boolean;
  onReady: (shot: string, ready: boolean) => void;
}) {
  const { live, shots } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  return held.map((shot) => {
    const found = shots.find(({ id }) => id === shot);
    const present = stretch?.shot === shot;
    const shown = present ? stretch : nextOf(live, shot, frame);
    if (!found || !shown) return null;
    const { width = 16, height = 9 } = found.format;
    return (
      <LiveShot
        key={shot}
        shot={shot}
        revision={found.revision}
        aspect={width / height}
        frame={present ? shotFrame(shown, frame) : shown.frame}
        seen={seen && present}
        onReady={onReady}
      />
    );
  });
}

/** Where a shot that is not seen comes in next. */
const nextOf = (live: Stretch[], shot: string, frame: number): Stretch | undefined =>
  live.find((stretch) => stretch.shot === shot && stretch.first > frame) ??
  live.find((stretch) => stretch.shot === shot);
