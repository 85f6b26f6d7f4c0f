import { useEffect, useRef, useState, type RefObject } from "react";
import { sayFault } from "../../parts/notices";
import { useSession, useShotState } from "../document/context";
import { fetchAhead } from "../document/ahead";
import { look, useView } from "../view";
import { drawsOnRequest, tellDrawn, tellMoved } from "./drawn";
import { useGraphics } from "./useGraphics";
import { LiveStage } from "./live/stage";

const GONE =
  "The system has taken the graphics away from the live view. It goes on by itself as soon as they are back; if they stay away, load the page again. Nothing is lost.";

/** The live view on a canvas: made once, told of scene, frame, size and what is pointed at. */
export function useLiveStage(
  canvas: RefObject<HTMLCanvasElement | null>,
  marks: RefObject<SVGSVGElement | null>,
  width: number,
  height: number,
): { stage: RefObject<LiveStage | null>; given: number; fault: string | null } {
  const session = useSession();
  const scene = useShotState((s) => s.scene);
  const frame = useView((s) => s.frame);
  const pointed = useView((s) => s.pointed);
  const detail = useView((s) => s.detail);
  const stage = useRef<LiveStage | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const { given, gone } = useGraphics(canvas);

  useEffect(() => {
    try {
      const target = canvas.current!;
      const made = new LiveStage(target, session.id);
      stage.current = made;
      // For debugging and tests: what the live view last drew.
      made.onDrawn = (revision, drawn, level) => {
        target.dataset.drawn = `${revision}:${drawn}`;
        target.dataset.level = level;
        target.dataset.times = "1";
        target.dataset.rested = "false";
        if (!useView.getState().shown) look({ shown: true });
        placeMarks(made, marks.current, useView.getState().pointed);
        tellDrawn();
        tellMoved();
      };
      made.onRefined = (times, of) => {
        target.dataset.times = String(times);
        target.dataset.rested = String(times === of);
        tellDrawn();
      };
      const quiet = drawsOnRequest(() => made.draw());
      const state = session.store.getState();
      if (state.scene) made.show(state.scene, useView.getState().frame);
      return () => {
        stage.current = null;
        quiet();
        made.dispose();
      };
    } catch {
      setFault(
        "The live view needs WebGL 2, and this browser does not offer it. The traced view and deliveries work all the same.",
      );
    }
  }, [session, canvas, marks, given]);

  useEffect(() => {
    if (!width) return;
    // Marks of another size stand nowhere; they come again with what is drawn.
    if (marks.current) marks.current.innerHTML = "";
    stage.current?.size(width, height);
  }, [width, height, marks, given]);

  useEffect(() => {
    const made = stage.current;
    if (!made || !scene) return;
    made.onLacking = (names) => {
      session
        .fetchLacking(names)
        .then((came) => came && made.draw())
        .catch(sayFault);
    };
    made.show(scene, frame);
  }, [session, scene, frame, given]);

  useEffect(() => {
    if (!scene) return;
    const stop = new AbortController();
    // Whatever does not come is asked for when it is to be drawn.
    fetchAhead(scene, stop.signal).catch(() => {});
    return () => stop.abort();
  }, [scene]);

  useEffect(() => session.lookAt(frame), [session, frame]);
  useEffect(() => stage.current?.draw(), [pointed]);
  useEffect(() => stage.current?.drawAs(detail), [detail, given]);
  return { stage, given, fault: gone ? GONE : fault };
}

/** Corner marks around the title pointed at. */
function placeMarks(
  stage: LiveStage,
  svg: SVGSVGElement | null,
  pointed: ReturnType<typeof useView.getState>["pointed"],
): void {
  if (!svg) return;
  const extent = typeof pointed === "object" ? stage.seen.extent(pointed.thing) : null;
  if (!extent) {
    svg.innerHTML = "";
    return;
  }
  const { clientWidth: w, clientHeight: h } = svg;
  // What reaches beyond the picture is marked along its border.
  const within = (v: number, most: number) => Math.max(1, Math.min(most - 1, v));
  const [l, t, r, b] = [
    within(extent[0] * w - 6, w),
    within(extent[1] * h - 6, h),
    within(extent[2] * w + 6, w),
    within(extent[3] * h + 6, h),
  ];
  const k = Math.min(14, (r - l) / 3, (b - t) / 3);
  const d = `M${l} ${t + k}V${t}H${l + k}M${r - k} ${t}H${r}V${t + k}M${r} ${b - k}V${b}H${r - k}M${l + k} ${b}H${l}V${b - k}`;
  svg.innerHTML = `<path d="${d}"/>`;
}
