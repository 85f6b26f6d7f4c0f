import { useEffect, useRef, useState } from "react";
import { listen, wish, type TracedPicture } from "../../api/live";
import type { Region, Show } from "../view";

export interface Traced {
  address: string | null;
  samples: number;
  total: number;
  /** The picture belongs to this frame and revision. */
  frame: number;
  revision: number;
  /** Share of the pixels that clip. */
  clipped: number;
  fault: string | null;
  /** The part of the picture it is of; null for all of it. */
  region: Region | null;
  /** The last clean picture of this frame before the latest edit. */
  before: string | null;
}

const NOTHING: Traced = {
  address: null,
  samples: 0,
  total: 0,
  frame: -1,
  revision: -1,
  clipped: 0,
  fault: null,
  region: null,
  before: null,
};

/**
 * The traced view of a frame: asked for anew on every change, sharpening as pictures arrive; while it
 * plays, late ones count too.
 */
export function useTraced(
  shot: string,
  active: boolean,
  playing: boolean,
  frame: number,
  revision: number,
  width: number,
  height: number,
  show: Show,
  ahead: number,
  region: Region | null,
): Traced {
  const [traced, setTraced] = useState<Traced>(NOTHING);
  const tag = useRef(0);
  const plays = useRef(playing);
  plays.current = playing;
  /** What was asked for lately, by tag. */
  const asked = useRef<Record<number, { region: Region | null }>>({});

  useEffect(() => {
    if (!active) return;
    let address: string | null = null;
    let last: TracedPicture | null = null;
    let before: { address: string; frame: number } | null = null;
    const stop = listen((heard) => {
      if (
        heard.kind === "picture" &&
        (heard.tag === tag.current || (plays.current && heard.tag > (last?.tag ?? 0)))
      ) {
        const { samples, total, frame, revision, clipped } = heard;
        const clean =
          last && last.samples >= last.total && last.frame === frame && !asked.current[last.tag]?.region;
        if (address && clean && last!.revision !== revision) {
          if (before) URL.revokeObjectURL(before.address);
          before = { address, frame };
        } else if (address) URL.revokeObjectURL(address);
        address = URL.createObjectURL(heard.data);
        last = heard;
        const same = before && before.frame === frame;
        setTraced({
          address,
          samples,
          total,
          frame,
          revision,
          clipped,
          fault: null,
          region: asked.current[heard.tag]?.region ?? null,
          before: same ? before!.address : null,
        });
      } else if (
        (heard.kind === "untraceable" || heard.kind === "refused") &&
        (heard.tag === undefined || heard.tag === tag.current)
      ) {
        setTraced((before) => ({ ...before, fault: heard.why }));
      }
    });
    return () => {
      stop();
      wish({ shot: null });
      if (address) URL.revokeObjectURL(address);
      if (before) URL.revokeObjectURL(before.address);
      setTraced(NOTHING);
    };
  }, [active, shot]);

  useEffect(() => {
    if (!active || width < 32 || revision < 0) return;
    tag.current += 1;
    asked.current = {
      [tag.current - 1]: asked.current[tag.current - 1] ?? { region: null },
      [tag.current]: { region },
    };
    wish({
      shot,
      frame,
      width,
      height,
      samples: 16,
      tag: tag.current,
      show,
      ahead,
      region,
      kept: plays.current,
    });
  }, [active, shot, frame, revision, width, height, show, ahead, region]);

  return traced;
}
