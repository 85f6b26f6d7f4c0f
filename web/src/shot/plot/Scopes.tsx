import { useEffect, useRef, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, got } from "../../api/client";
import { DRAWN, requestDrawing } from "../picture/drawn";
import { useView } from "../view";

const SCOPES = ["waveform", "channels", "histogram", "vectorscope"] as const;
type Scope = (typeof SCOPES)[number];
/** Pixels of the picture that graphs are made of. */
const WIDE = 320;
/** Milliseconds between two looks at what is shown. */
const EVERY = 180;

/** What is shown now, small: the traced picture where there is one, else the live view. */
function shownNow(): HTMLImageElement | HTMLCanvasElement | null {
  const traced = document.querySelector<HTMLImageElement>("[data-testid=traced]");
  if (traced?.complete && traced.naturalWidth) return traced;
  return document.querySelector<HTMLCanvasElement>("[data-testid=live]");
}

/** Graphs of what is in the picture, made by the core, again as soon as another one is shown. */
export function Scopes() {
  const [graphs, setGraphs] = useState<Partial<Record<Scope, string>>>({});
  const [pane, setPane] = useState({ width: 240, height: 100 });
  const box = useRef<HTMLDivElement>(null);
  const playing = useView((s) => s.playing);
  const targets = useQuery({
    queryKey: ["scope targets"],
    queryFn: () => got(api.GET("/api/scopes/targets")),
    staleTime: Infinity,
  }).data;

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const width = Math.max(80, Math.min(1000, Math.floor(entry!.contentRect.width)));
      setPane({ width, height: Math.floor(width * 0.42) });
    });
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    let gone = false;
    let busy = false;
    // Something was drawn while graphs were on their way.
    let missed = false;
    let before = "";
    let last = 0;
    const small = document.createElement("canvas");
    const made: string[] = [];
    const looked = () => {
      missed ||= busy;
      if (gone || busy) return;
      const now = performance.now();
      if (now - last < EVERY && shownNow() instanceof HTMLCanvasElement && playing) return;
      last = now;
      const shown = shownNow();
      if (!shown) return;
      const [wide, high] =
        shown instanceof HTMLImageElement
          ? [shown.naturalWidth, shown.naturalHeight]
          : [shown.width, shown.height];
      if (!wide || !high) return;
      small.width = Math.min(WIDE, wide);
      small.height = Math.max(1, Math.round((small.width * high) / wide));
      const on = small.getContext("2d", { willReadFrequently: true })!;
      on.drawImage(shown, 0, 0, small.width, small.height);
      const { data } = on.getImageData(0, 0, small.width, small.height);
      const codes = new Uint8Array(small.width * small.height * 3);
      let told = 0;
      for (let k = 0; k < codes.length; k++) {
        codes[k] = data[Math.floor(k / 3) * 4 + (k % 3)]!;
        told = (told * 31 + codes[k]!) % 2147483647;
      }
      const key = `${told} ${pane.width}`;
      if (key === before) return;
      before = key;
      busy = true;
      const ask = async (what: Scope): Promise<[Scope, string]> => {
        const down =
          what === "vectorscope"
            ? pane.width
            : what === "histogram"
              ? Math.round(pane.height * 0.6)
              : pane.height;
        const answer = await fetch(
          `/api/scopes?what=${what}&width=${small.width}&height=${small.height}&across=${pane.width}&down=${down}`,
          { method: "POST", body: codes, headers: { "Content-Type": "application/octet-stream" } },
        );
        if (!answer.ok) throw new Error(await answer.text());
        const address = URL.createObjectURL(await answer.blob());
        made.push(address);
        return [what, address];
      };
      Promise.all(SCOPES.map(ask))
        .then((found) => {
          if (gone) return;
          setGraphs(Object.fromEntries(found));
          for (const old of made.splice(0, made.length - SCOPES.length)) URL.revokeObjectURL(old);
        })
        // A graph that does not come leaves the one before.
        .catch(() => (before = ""))
        .finally(() => {
          busy = false;
          if (missed && !gone) requestDrawing();
          missed = false;
        });
    };
    // The live view can be read in the moment it is drawn; traced pictures come by themselves.
    window.addEventListener(DRAWN, looked);
    const timer = window.setInterval(() => shownNow() instanceof HTMLImageElement && looked(), EVERY);
    requestDrawing();
    return () => {
      gone = true;
      clearInterval(timer);
      window.removeEventListener(DRAWN, looked);
      for (const one of made) URL.revokeObjectURL(one);
    };
  }, [pane, playing]);

  return (
    <div className="scopes" ref={box}>
      {SCOPES.map((what) => (
        <figure key={what}>
          <figcaption>{what}</figcaption>
          <div className={`scope ${what}`}>
            {graphs[what] && <img src={graphs[what]} alt={`${what} of the picture`} />}
            {what === "vectorscope" &&
              targets?.map(({ name, x, y }) => (
                <i key={name} style={{ left: `${100 * x}%`, top: `${100 * y}%` }}>
                  {name}
                </i>
              ))}
          </div>
        </figure>
      ))}
    </div>
  );
}
