import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from "react";
import { listen } from "../../api/live";
import { sayFault } from "../../parts/notices";
import { useFormat, useSession, useShotState } from "../document/context";
import { isBodied, useListed } from "../things";
import { look, point, useView, type Region } from "../view";
import { DrawSurface } from "../artwork/DrawSurface";
import { TraceSurface } from "../artwork/TraceSurface";
import { bringThing } from "../artwork/bring";
import "../artwork/artwork.css";
import { AnswerCard } from "./AnswerCard";
import { Gaps } from "./Gaps";
import { RegionFrame, RegionPicker } from "./RegionPicker";
import { drawsOnRequest, tellDrawn } from "./drawn";
import { Guides } from "./Guides";
import { PlateOverlay } from "./plate/PlateOverlay";
import { ShadowTips } from "./ShadowTips";
import { LiveStage } from "./live/stage";
import { useCameraGesture } from "./useCameraGesture";
import { useTraced } from "./useTraced";
import { Wipe } from "./Wipe";
import { WordsInPlace } from "./WordsInPlace";
import { Gauges } from "./Gauges";
import "./picture.css";

/** The picture: live, and traced over it where one wants; it answers to clicks and drags. */
export function Picture() {
  const session = useSession();
  const { width, height, frames } = useFormat();
  const things = useListed();
  const scene = useShotState((s) => s.scene);
  const frame = useView((s) => s.frame);
  const playing = useView((s) => s.playing);
  const tracing = useView((s) => s.traced);
  const show = useView((s) => s.show);
  const wipe = useView((s) => s.wipe);
  const ahead = useView((s) => s.ahead);
  const region = useView((s) => s.region);
  const pointed = useView((s) => s.pointed);
  const typing = useView((s) => s.typing);
  const kerning = useView((s) => s.kerning);
  const surface = useView((s) => s.surface);
  const detail = useView((s) => s.detail);
  const area = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const marks = useRef<SVGSVGElement>(null);
  const stage = useRef<LiveStage | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [box, setBox] = useState({ width: 0, height: 0, marginLeft: 0, marginTop: 0 });
  const aspect = width / height;
  const chosen = typeof pointed === "object" ? pointed.thing : null;
  const isTitle = (id: string | null) => things.some((thing) => thing.kind === "title" && thing.key === id);

  // Before anything is painted: the traced picture is asked for as soon as its size is known.
  useLayoutEffect(() => {
    const measure = () => {
      const room = area.current!.getBoundingClientRect();
      // Few different widths, as kept frames have the size they were traced at, and whole pixels, as anything else blurs them.
      const wide = Math.max(16, Math.floor(Math.min(room.width, room.height * aspect) / 16) * 16);
      const tall = Math.round(wide / aspect);
      setBox({
        width: wide,
        height: tall,
        marginLeft: Math.round(room.left + (room.width - wide) / 2) - room.left,
        marginTop: Math.round(room.top + (room.height - tall) / 2) - room.top,
      });
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, [aspect]);

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
        if (!useView.getState().shown) look({ shown: true });
        placeMarks(made, marks.current, useView.getState().pointed);
        tellDrawn();
      };
      made.onRefined = (times) => {
        target.dataset.times = String(times);
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
  }, [session]);

  useEffect(() => {
    const made = stage.current;
    if (made && box.width) made.size(box.width, box.height);
  }, [box]);

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
  }, [session, scene, frame]);

  useEffect(() => session.lookAt(frame), [session, frame]);

  useEffect(() => stage.current?.draw(), [pointed]);
  useEffect(() => stage.current?.drawAs(detail), [detail]);

  const revision = useShotState((s) => (s.waiting ? -1 : s.revision));
  // Pixel for pixel.
  const tracedWidth = Math.round(box.width * Math.min(window.devicePixelRatio, 2));
  const tracedHeight = Math.max(16, Math.round(tracedWidth / aspect));
  useEffect(() => {
    if (tracedWidth >= 32) look({ tracedSize: [tracedWidth, tracedHeight] });
  }, [tracedWidth, tracedHeight]);
  const picture = useTraced(
    session.id,
    tracing && (!playing || ahead),
    playing,
    frame,
    revision,
    tracedWidth,
    tracedHeight,
    show,
    ahead && !playing ? frames : 0,
    region === "choose" || playing ? null : region,
  );
  // While it plays, a kept picture may come a moment late: better than to go to and fro between two views.
  const near = playing
    ? Math.abs(picture.frame - frame) <= LATE && picture.samples >= picture.total
    : picture.frame === frame;
  const showsTraced =
    tracing && (!playing || ahead) && picture.address !== null && near && picture.revision === revision;

  const gaze =
    showsTraced && !wipe ? "elsewhere" : tracing && !playing && !picture.fault ? "passes" : "rests";
  useEffect(() => stage.current?.lookedAt(gaze), [gaze]);
  useEffect(() => {
    if (showsTraced) look({ shown: true });
  }, [showsTraced]);

  const gesture = useCameraGesture(stage, frame);

  function onPointerUp(event: PointerEvent<HTMLDivElement>) {
    if (gesture.end() || event.button !== 0) return;
    const rect = event.currentTarget.getBoundingClientRect();
    const [x, y] = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
    const hit = stage.current?.seen.pick(x, y);
    look({ asked: { x, y } });
    point(hit ? { thing: hit.thing, part: hit.part, source: hit.source } : "backdrop");
  }

  function onDoubleClick() {
    if (isTitle(chosen)) look({ typing: chosen });
  }

  return (
    <section
      className="picture"
      aria-label="Picture"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        for (const file of e.dataTransfer.files)
          void bringThing(session, file).catch((why: unknown) => sayFault(why, file.name));
      }}
    >
      {surface?.kind === "draw" && things.some((thing) => thing.key === surface.thing) && (
        <DrawSurface key={surface.at} at={surface.at} line={surface.line} />
      )}
      {surface?.kind === "trace" && <TraceSurface picture={surface.picture} name={surface.name} />}
      <div className="picture-area" ref={area}>
        <div
          className="picture-frame"
          style={box}
          tabIndex={0}
          role="img"
          aria-label={`Frame ${frame}`}
          onPointerDown={gesture.start}
          onPointerMove={gesture.move}
          onPointerUp={onPointerUp}
          onPointerCancel={() => gesture.end()}
          onWheel={gesture.wheel}
          onDoubleClick={onDoubleClick}
          onKeyDown={(e) => e.key === "Escape" && look({ asked: null })}
        >
          <canvas ref={canvas} data-testid="live" aria-hidden="true" />
          {tracing && !playing && wipe?.kept && <img src={wipe.kept} alt="" draggable={false} />}
          {showsTraced && (
            <img
              src={picture.address!}
              alt=""
              draggable={false}
              data-testid="traced"
              data-samples={picture.samples}
              className={picture.region ? "part" : undefined}
              style={
                picture.region
                  ? placeOf(picture.region)
                  : wipe
                    ? { clipPath: `inset(0 0 0 ${wipe.at * 100}%)` }
                    : undefined
              }
            />
          )}
          {tracing && !playing && wipe && <Wipe {...wipe} />}
          <svg ref={marks} className="picture-marks" aria-hidden="true" />
          {fault && <div className="picture-fault">{fault}</div>}
          {kerning && chosen && isTitle(chosen) && <Gaps title={chosen} stage={stage} />}
          {typing && isTitle(typing) && <WordsInPlace title={typing} stage={stage} />}
          {tracing && region === "choose" && <RegionPicker />}
          {tracing && region && region !== "choose" && <RegionFrame region={region} />}
          <Guides />
          {pointed === "plate" && <PlateOverlay width={box.width} height={box.height} />}
          {!playing && <ShadowTips stage={stage} />}
          {!playing && <AnswerCard width={tracedWidth} height={tracedHeight} />}
          {!things.some((thing) => isBodied(thing.kind)) && (
            <div className="picture-fault">
              No words yet. Add a title in the rows of time, or press Shift W.
            </div>
          )}
        </div>
      </div>
      <Gauges traced={tracing && !playing ? picture : null} showsTraced={showsTraced} />
    </section>
  );
}

/** Frames that a kept picture may come late while it plays: half a second or less. */
const LATE = 12;

const placeOf = ([x, y, w, h]: Region) => ({
  left: `${x * 100}%`,
  top: `${y * 100}%`,
  width: `${w * 100}%`,
  height: `${h * 100}%`,
});

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

// The socket is opened with the picture, so that news arrive from the start.
listen(() => {});
