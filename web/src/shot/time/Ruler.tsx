import { useRef } from "react";
import type { Schemas } from "../../api/client";
import { timecode } from "../../parts/when";
import { useShotState } from "../document/context";
import { look, useView } from "../view";
import { useTracedRuns } from "./useTracedRuns";
import { markStep, toFrame, toX, type Scale } from "./scale";

const NONE: Schemas["Marker"][] = [];

interface Props {
  scale: Scale;
  frames: number;
  rate: { num: number; den: number };
}

/** Timecodes; dragging scrubs. */
export function Ruler({ scale, frames, rate }: Props) {
  const frame = useView((s) => (s.playing ? -1 : s.frame));
  const scrubbing = useRef(false);
  const traced = useTracedRuns();
  const range = useView((s) => s.range);
  const markers = useShotState((s) => s.shot?.markers ?? NONE);
  const perFrame = toX(scale, 1) - toX(scale, 0);
  const step = markStep(scale, rate.num / rate.den);
  const marks: number[] = [];
  for (let f = Math.ceil(scale.from / step) * step; f <= scale.to; f += step) marks.push(f);

  function scrub(event: React.PointerEvent<SVGSVGElement>) {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    look({ frame: Math.max(0, Math.min(frames - 1, Math.round(toFrame(scale, x)))), playing: false });
  }

  return (
    <svg
      className="ruler"
      width={scale.width}
      height={26}
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={0}
      aria-valuemax={frames - 1}
      aria-valuenow={Math.max(0, frame)}
      aria-valuetext={timecode(Math.max(0, frame), rate)}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        scrubbing.current = true;
        scrub(e);
      }}
      onPointerMove={(e) => scrubbing.current && scrub(e)}
      onPointerUp={() => (scrubbing.current = false)}
    >
      {traced.map(([first, end]) => (
        <rect
          key={first}
          className="traced-run"
          x={toX(scale, first) - perFrame / 2}
          width={(end - first + 1) * perFrame}
          y={0}
          height={3}
        >
          <title>{`Frames ${first} to ${end} are traced and kept`}</title>
        </rect>
      ))}
      {range && (
        <rect
          className="ruler-range"
          x={toX(scale, range[0])}
          width={Math.max(2, toX(scale, range[1]) - toX(scale, range[0]))}
          y={0}
          height={26}
        />
      )}
      {markers.map(({ frame: at = 0, name, note }, i) => (
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
