import { useEffect, useRef, useState } from "react";
import { listen, wish } from "../../api/live";
import type { Show } from "../view";

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
}

const NOTHING: Traced = { address: null, samples: 0, total: 0, frame: -1, revision: -1, clipped: 0, fault: null };

/** The traced view of a frame: asked for anew on every change, sharpening as pictures arrive. */
export function useTraced(shot: string, active: boolean, frame: number, revision: number, width: number, height: number, show: Show, ahead: number): Traced {
  const [traced, setTraced] = useState<Traced>(NOTHING);
  const tag = useRef(0);

  useEffect(() => {
    if (!active) return;
    let address: string | null = null;
    const stop = listen((heard) => {
      if (heard.kind === "picture" && heard.tag === tag.current) {
        if (address) URL.revokeObjectURL(address);
        address = URL.createObjectURL(heard.data);
        setTraced({ address, samples: heard.samples, total: heard.total, frame: heard.frame, revision: heard.revision, clipped: heard.clipped, fault: null });
      } else if ((heard.kind === "untraceable" || heard.kind === "refused") && (heard.tag === undefined || heard.tag === tag.current)) {
        setTraced((before) => ({ ...before, fault: heard.why }));
      }
    });
    return () => {
      stop();
      wish({ shot: null });
      if (address) URL.revokeObjectURL(address);
      setTraced(NOTHING);
    };
  }, [active, shot]);

  useEffect(() => {
    if (!active || width < 32 || revision < 0) return;
    tag.current += 1;
    wish({ shot, frame, width, height, samples: 16, tag: tag.current, show, ahead });
  }, [active, shot, frame, revision, width, height, show, ahead]);

  return traced;
}
