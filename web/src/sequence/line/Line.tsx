import { useEffect, useRef, useState, type PointerEvent } from "react";
import { timecode } from "../../parts/when";
import { markStep, toFrame, toX, zoomed, type Scale } from "../../shot/time/scale";
import { useOpen } from "../context";
import { useKept } from "../usePictures";
import { see, useSequenceView } from "../view";
import { LaneRow } from "./LaneRow";
import { PieceBox } from "./PieceBox";
import { SoundRow } from "./SoundRow";

/** The sequence in time: ruler, lanes, the line of pieces, sounds. */
export function Line() {
  const { document, total, starts } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [shown, setShown] = useState<{ from: number; to: number } | null>(null);
  useEffect(() => {
    const { current } = box;
    if (!current) return;
    const watch = new ResizeObserver(() => setWidth(current.clientWidth));
    watch.observe(current);
    return () => watch.disconnect();
  }, []);
  const end = Math.max(25, total);
  const scale: Scale = { from: shown?.from ?? 0, to: Math.min(shown?.to ?? end, end), width };

  return (
    <div
      className="line-box"
      ref={box}
      onWheel={(event) => {
        const around = toFrame(scale, event.clientX - box.current!.getBoundingClientRect().left);
        if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
          const by = ((event.deltaX || event.deltaY) / width) * (scale.to - scale.from);
          const from = Math.max(0, Math.min(end - (scale.to - scale.from), scale.from + by));
          setShown({ from, to: from + scale.to - scale.from });
        } else {
          const next = zoomed(scale, end + 1, around, event.deltaY > 0 ? 1.15 : 1 / 1.15);
          setShown({ from: next.from, to: next.to });
        }
      }}
      onDoubleClick={(event) => event.target === box.current && setShown(null)}
    >
      <Ruler scale={scale} total={total} />
      {(document.lanes ?? []).map((lane, index) => (
        <LaneRow key={index} lane={lane} index={index} scale={scale} />
      ))}
      <div className="line-row" aria-label="Line" role="list">
        {(document.line ?? []).map((piece, index) => (
          <PieceBox key={index} piece={piece} index={index} start={starts[index]!} scale={scale} />
        ))}
      </div>
      {Object.keys(document.sounds ?? {}).map((id) => (
        <SoundRow key={id} id={id} scale={scale} />
      ))}
      <div className="line-now" style={{ left: toX(scale, frame) }} />
    </div>
  );
}

/** Timecodes; dragging scrubs. What is ready is a band over it. */
function Ruler({ scale, total }: { scale: Scale; total: number }) {
  const { document } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const kept = useKept();
  const scrubbing = useRef(false);
  const rate = document.rate as { num: number; den: number };
  const step = markStep(scale, rate.num / rate.den);
  const marks: number[] = [];
  for (let f = Math.ceil(scale.from / step) * step; f <= scale.to; f += step) marks.push(f);
  const scrub = (event: PointerEvent<SVGSVGElement>) => {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    see({
      frame: Math.max(0, Math.min(Math.max(0, total - 1), Math.round(toFrame(scale, x)))),
      playing: false,
    });
  };
  return (
    <svg
      className="ruler"
      width={scale.width}
      height={26}
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={0}
      aria-valuemax={Math.max(0, total - 1)}
      aria-valuenow={frame}
      aria-valuetext={timecode(frame, rate)}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        scrubbing.current = true;
        scrub(e);
      }}
      onPointerMove={(e) => scrubbing.current && scrub(e)}
      onPointerUp={() => (scrubbing.current = false)}
    >
      {kept.map(([first, last]) => (
        <rect
          key={first}
          className="traced-run"
          x={toX(scale, first)}
          width={Math.max(1, toX(scale, last + 1) - toX(scale, first))}
          y={0}
          height={3}
        >
          <title>{`Frames ${first} to ${last} are ready`}</title>
        </rect>
      ))}
      {(document.markers ?? []).map(({ frame: at = 0, name, note }, i) => (
        <g key={i} className="marker" transform={`translate(${toX(scale, at)} 0)`}>
          <path d="M-3.500 17H3.500V22L0 26L-3.500 22Z" />
          <title>{[name || `Marker ${i + 1}`, note].filter(Boolean).join(": ")}</title>
        </g>
      ))}
      {marks.map((f) => (
        <g key={f} transform={`translate(${toX(scale, f)} 0)`}>
          <line y1={18} y2={26} />
          <text x={3} y={14}>
            {timecode(f, rate).replace(/^00:/, "")}
          </text>
        </g>
      ))}
    </svg>
  );
}
