import { useEffect, useRef, type PointerEvent, type ReactNode } from "react";
import { listen } from "../../api/live";
import { sayFault } from "../../parts/notices";
import { useFormat, useSession } from "../document/context";
import { isBodied, useListed } from "../things";
import { look, point, useView } from "../view";
import { DrawSurface } from "../artwork/DrawSurface";
import { TraceSurface } from "../artwork/TraceSurface";
import { bringThing } from "../artwork/bring";
import "../artwork/artwork.css";
import { AnswerCard } from "./AnswerCard";
import { Gaps } from "./Gaps";
import { RegionFrame, RegionPicker } from "./RegionPicker";
import { Guides } from "./Guides";
import { MotionInPicture } from "./MotionInPicture";
import { PlateOverlay } from "./plate/PlateOverlay";
import { ShadowTips } from "./ShadowTips";
import { useCameraGesture } from "./useCameraGesture";
import { useFittedBox } from "./useFittedBox";
import { useLiveStage } from "./useLiveStage";
import { placeOf, useTracedPicture } from "./useTracedPicture";
import type { Traced } from "./useTraced";
import { Wipe } from "./Wipe";
import { WordsInPlace } from "./WordsInPlace";
import { Gauges } from "./Gauges";
import "./picture.css";

/** The picture: live, and traced over it where one wants; it answers to clicks and drags. */
export function Picture() {
  const { width, height } = useFormat();
  const things = useListed();
  const frame = useView((s) => s.frame);
  const playing = useView((s) => s.playing);
  const tracing = useView((s) => s.traced);
  const wipe = useView((s) => s.wipe);
  const region = useView((s) => s.region);
  const pointed = useView((s) => s.pointed);
  const typing = useView((s) => s.typing);
  const kerning = useView((s) => s.kerning);
  const area = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const marks = useRef<SVGSVGElement>(null);
  const box = useFittedBox(area, width / height);
  const { stage, given, fault } = useLiveStage(canvas, marks, box.width, box.height);
  const traced = useTracedPicture(box.width);
  const chosen = typeof pointed === "object" ? pointed.thing : null;
  const isTitle = (id: string | null) => things.some((thing) => thing.kind === "title" && thing.key === id);

  const covered = traced.shown && !wipe;
  const gaze = covered ? "elsewhere" : tracing && !playing && !traced.picture.fault ? "passes" : "rests";
  useEffect(() => stage.current?.lookedAt(gaze), [stage, gaze, given]);

  const gesture = useCameraGesture(stage, frame);

  function onPointerUp(event: PointerEvent<HTMLDivElement>) {
    if (gesture.end() || event.button !== 0) return;
    const rect = event.currentTarget.getBoundingClientRect();
    const [x, y] = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
    const hit = stage.current?.seen.pick(x, y);
    look({ asked: { x, y } });
    point(hit ? { thing: hit.thing, part: hit.part, source: hit.source } : "backdrop");
  }

  return (
    <Brought>
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
          onDoubleClick={() => isTitle(chosen) && look({ typing: chosen })}
          onKeyDown={(e) => e.key === "Escape" && look({ asked: null })}
        >
          <canvas ref={canvas} data-testid="live" aria-hidden="true" />
          {tracing && !playing && wipe?.kept && <img src={wipe.kept} alt="" draggable={false} />}
          {traced.shown && <TracedImage picture={traced.picture} />}
          {tracing && !playing && wipe && <Wipe {...wipe} />}
          <svg ref={marks} className="picture-marks" aria-hidden="true" />
          {fault && <div className="picture-fault">{fault}</div>}
          {kerning && chosen && isTitle(chosen) && <Gaps title={chosen} stage={stage} />}
          {typing && isTitle(typing) && <WordsInPlace title={typing} stage={stage} />}
          {tracing && region === "choose" && <RegionPicker />}
          {tracing && region && region !== "choose" && <RegionFrame region={region} />}
          <Guides />
          {pointed === "plate" && <PlateOverlay width={box.width} height={box.height} />}
          {!playing && <MotionInPicture stage={stage} />}
          {!playing && <ShadowTips stage={stage} />}
          {!playing && <AnswerCard width={traced.width} height={traced.height} />}
          {!things.some((thing) => isBodied(thing.kind)) && (
            <div className="picture-fault">
              No words yet. Add a title in the rows of time, or press Shift W.
            </div>
          )}
        </div>
      </div>
      <Gauges traced={tracing && !playing ? traced.picture : null} showsTraced={traced.shown} />
    </Brought>
  );
}

/** The pane of the picture: files dropped on it are brought, surfaces for drawing lie over it. */
function Brought({ children }: { children: ReactNode }) {
  const session = useSession();
  const things = useListed();
  const surface = useView((s) => s.surface);
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
      {surface?.kind === "trace" && <TraceSurface {...surface} />}
      {children}
    </section>
  );
}

/** The traced picture, or the part of it that was asked for. */
function TracedImage({ picture }: { picture: Traced }) {
  const wipe = useView((s) => s.wipe);
  const place = picture.region
    ? placeOf(picture.region)
    : wipe
      ? { clipPath: `inset(0 0 0 ${wipe.at * 100}%)` }
      : undefined;
  return (
    <img
      src={picture.address!}
      alt=""
      draggable={false}
      data-testid="traced"
      data-samples={picture.samples}
      className={picture.region ? "part" : undefined}
      style={place}
    />
  );
}

// The socket is opened with the picture, so that news arrive from the start.
listen(() => {});
