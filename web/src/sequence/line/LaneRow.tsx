import { useRef } from "react";
import type { Schemas } from "../../api/client";
import { toX, type Scale } from "../../shot/time/scale";
import { useOpen, useSequenceSession } from "../context";
import { see, useSequenceView } from "../view";
import { snapped } from "./geometry";

type Lane = Schemas["Lane"];

/** A lane of titles over the line; what lies on it is dragged in time. */
export function LaneRow({ lane, index, scale }: { lane: Lane; index: number; scale: Scale }) {
  return (
    <div className={`lane-row${lane.on === false ? " off" : ""}`} role="list" aria-label={lane.name}>
      {(lane.pieces ?? []).map((laid, at) => (
        <LaidBox key={at} laid={laid} lane={index} index={at} scale={scale} />
      ))}
    </div>
  );
}

function LaidBox({
  laid,
  lane,
  index,
  scale,
}: {
  laid: Schemas["Laid"];
  lane: number;
  index: number;
  scale: Scale;
}) {
  const session = useSequenceSession();
  const { shots, starts } = useOpen();
  const chosen = useSequenceView(
    (s) => s.chosen?.kind === "laid" && s.chosen.lane === lane && s.chosen.index === index,
  );
  const drag = useRef<{ x: number; from: number; end: boolean; frames: number; gesture: string } | null>(
    null,
  );
  const at = laid.at ?? 0;
  const frames = laid.piece?.frames ?? 1;
  const left = toX(scale, at);
  const width = toX(scale, at + frames) - left;
  const name = shots.find((shot) => shot.id === laid.piece?.shot)?.name ?? laid.piece?.name ?? "Title";
  return (
    <div role="listitem" className={`laid${chosen ? " chosen" : ""}`} style={{ left, width }}>
      <button
        className="laid-body"
        aria-label={`${name}, over the line from frame ${at}, ${frames} frames`}
        aria-pressed={chosen}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          see({ chosen: { kind: "laid", lane, index } });
          const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
          const end = width > 24 && x > width - 7;
          drag.current = { x: event.clientX, from: at, end, frames, gesture: crypto.randomUUID() };
        }}
        onPointerMove={(event) => {
          const d = drag.current;
          if (!d || Math.abs(event.clientX - d.x) < 3) return;
          const perFrame = toX(scale, 1) - toX(scale, 0);
          const by = (event.clientX - d.x) / perFrame;
          const places = [0, useSequenceView.getState().frame, ...starts];
          if (d.end) {
            const last = snapped(Math.round(d.from + d.frames + by), places, 5 / perFrame);
            const value = Math.max(1, last - d.from);
            session.edit(
              [{ op: "replace", path: `/lanes/${lane}/pieces/${index}/piece/frames`, value }],
              d.gesture,
            );
          } else {
            const value = Math.max(0, snapped(Math.round(d.from + by), places, 5 / perFrame));
            session.edit([{ op: "replace", path: `/lanes/${lane}/pieces/${index}/at`, value }], d.gesture);
          }
        }}
        onPointerUp={() => (drag.current = null)}
        onPointerCancel={() => (drag.current = null)}
        onClick={() => see({ chosen: { kind: "laid", lane, index } })}
      >
        {name}
      </button>
    </div>
  );
}
