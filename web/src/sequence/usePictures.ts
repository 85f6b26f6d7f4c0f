import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { api, got } from "../api/client";
import { Frames, nextMissing } from "./frames";
import { useOpen, useSequenceState } from "./context";
import { see, useSequenceView } from "./view";

export const WIDTH = 480;
// Milliseconds of rest before pictures that are missing are made.
const REST = 1200;

/** Runs of frames that can be shown at once. */
export function useKept(): [number, number][] {
  const { id } = useOpen();
  const pictures = useSequenceState((s) => s.pictures);
  const version = useSequenceView((s) => s.version);
  const found = useQuery({
    queryKey: ["sequence kept", id, version, pictures],
    queryFn: () =>
      got(
        api.GET("/api/sequences/{sequence}/kept", {
          params: { path: { sequence: id }, query: { width: WIDTH, version } },
        }),
      ),
    placeholderData: (before) => before,
    refetchInterval: 4000,
    retry: false,
  });
  return (found.data?.runs as [number, number][] | undefined) ?? NONE;
}
const NONE: [number, number][] = [];

/** Pictures of frames: the present one first, then those that are kept, then those still to be made. */
export function usePictures(): { frames: Frames; count: number } {
  const { id, total } = useOpen();
  const pictures = useSequenceState((s) => s.pictures);
  const version = useSequenceView((s) => s.version);
  const frame = useSequenceView((s) => s.frame);
  const playing = useSequenceView((s) => s.playing);
  const drafting = useSequenceView((s) => s.drafting);
  const kept = useKept();
  const client = useQueryClient();
  const [count, setCount] = useState(0);

  const frames = useMemo(
    () =>
      new Frames(
        (at, { onlyKept, aside }) =>
          `/api/sequences/${id}/frame?frame=${at}&width=${WIDTH}&version=${encodeURIComponent(version)}&only_kept=${onlyKept}&aside=${aside}`,
        () => setCount((n) => n + 1),
      ),
    // Other pictures have another store.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [id, version, pictures],
  );
  useEffect(() => () => frames.close(), [frames]);

  useEffect(() => {
    if (!playing && frame < total) void frames.ask(frame, { first: !frames.has(frame) });
  }, [frames, frame, playing, total]);

  // What is kept is fetched ahead of playing.
  useEffect(() => {
    const timer = setInterval(() => {
      const from = useSequenceView.getState().frame;
      for (let n = 0; n < 400 && !frames.busy; n++) {
        const at = (from + n) % Math.max(1, total);
        if (!frames.has(at) && kept.some(([a, b]) => a <= at && at <= b))
          void frames.ask(at, { onlyKept: true });
      }
    }, 30);
    return () => clearInterval(timer);
  }, [frames, kept, total]);

  // What is missing is made while nobody does anything else.
  useEffect(() => {
    if (!drafting || playing || version) return;
    const missing = nextMissing(kept, total, frame);
    if (missing === null) return;
    const timer = setTimeout(() => {
      void frames
        .ask(missing, { aside: true })
        .then(() => client.invalidateQueries({ queryKey: ["sequence kept", id] }));
    }, REST / 4);
    return () => clearTimeout(timer);
  }, [frames, drafting, playing, version, kept, total, frame, client, id, count]);

  return { frames, count };
}

/** Play by the clock: pictures that are not there drop out, time does not. */
export function usePlaying(): void {
  const { total, document } = useOpen();
  const playing = useSequenceView((s) => s.playing);
  const fps = (document.rate?.num ?? 25) / (document.rate?.den ?? 1);
  useEffect(() => {
    if (!playing || total < 2) return;
    const at = useSequenceView.getState().frame;
    const from = at >= total - 1 ? 0 : at;
    const begun = performance.now();
    let asked = requestAnimationFrame(function step(now) {
      const gone = from + Math.floor((Math.max(0, now - begun) / 1000) * fps);
      const { loop, frame } = useSequenceView.getState();
      if (gone >= total && !loop) return see({ frame: total - 1, playing: false });
      if (gone % total !== frame) see({ frame: gone % total });
      asked = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(asked);
  }, [playing, total, fps]);
}
