import { Button, Checkbox, FormControlLabel, Popover, Tooltip } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState, type PointerEvent } from "react";
import { api, got } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { useAt, useSession } from "../document/context";
import { chooseGuides, useView } from "../view";
import { GHOSTS, PATH } from "./MotionInPicture";

interface Line {
  way: "upright" | "level";
  at: number;
}

function useGuides() {
  const width = Number(useAt("/format/width"));
  const height = Number(useAt("/format/height"));
  return useQuery({
    queryKey: ["guides", width, height],
    queryFn: () => got(api.GET("/api/guides", { params: { query: { width, height } } })),
    staleTime: Infinity,
  }).data;
}

/** Chooses what is drawn over the picture to compose by. */
export function GuidesMenu() {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const shown = useView((s) => s.guides);
  const guides = useGuides() ?? [];
  const own = (useAt("/guides") ?? []) as Line[];
  const toggle = (name: string) =>
    chooseGuides(shown.includes(name) ? shown.filter((one) => one !== name) : [...shown, name]);
  const add = (way: Line["way"]) => {
    session.edit([{ op: "add", path: "/guides/-", value: { way, at: 0.5 } }]);
    if (!shown.includes(OWN)) chooseGuides([...shown, OWN]);
  };
  return (
    <>
      <Tooltip title="Safe areas, middle, thirds, other formats, and lines of your own over the picture">
        <button
          className="gauge plain"
          aria-haspopup="dialog"
          aria-pressed={shown.length > 0}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          guides
        </button>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "top", horizontal: "left" }}
        transformOrigin={{ vertical: "bottom", horizontal: "left" }}
        transitionDuration={0}
      >
        <div className="guides-menu" role="dialog" aria-label="Guides">
          {[
            ...guides,
            { name: PATH, tells: "With a tick a frame; its keys are dragged in the picture." },
            { name: GHOSTS, tells: "What is pointed at, a few frames before and after, as outlines." },
            { name: OWN, tells: "Drag them in the picture; out of it they go. Arrow keys move them too." },
          ].map(({ name, tells }) => (
            <Tooltip key={name} title={tells} placement="right">
              <FormControlLabel
                label={name}
                control={
                  <Checkbox size="small" checked={shown.includes(name)} onChange={() => toggle(name)} />
                }
              />
            </Tooltip>
          ))}
          <span className="guides-add">
            <Button size="small" startIcon={<Icon name="plus" size={14} />} onClick={() => add("upright")}>
              upright line
            </Button>
            <Button size="small" startIcon={<Icon name="plus" size={14} />} onClick={() => add("level")}>
              level line
            </Button>
          </span>
          {own.length === 0 && shown.includes(OWN) && <p className="hint">There are none yet: add one.</p>}
        </div>
      </Popover>
    </>
  );
}

const OWN = "own lines";

/** What is drawn over the picture to compose by. */
export function Guides() {
  const shown = useView((s) => s.guides);
  const guides = useGuides();
  if (!shown.length) return null;
  return (
    <div className="guides">
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
        {guides
          ?.filter(({ name }) => shown.includes(name))
          .map((guide) => (
            <g key={guide.name}>
              {guide.boxes.map((box, k) => (
                <rect key={k} x={box[0]} y={box[1]} width={box[2]} height={box[3]} />
              ))}
              {guide.lines.map((line, k) => (
                <line key={k} x1={line[0]} y1={line[1]} x2={line[2]} y2={line[3]} />
              ))}
            </g>
          ))}
      </svg>
      {guides
        ?.filter(({ name, boxes }) => shown.includes(name) && boxes.length > 0)
        .map(({ name, boxes }) => (
          <span
            key={name}
            className="guide-name"
            style={{ left: `${100 * boxes[0]![0]!}%`, top: `${100 * boxes[0]![1]!}%` }}
          >
            {name.replace(" within", "")}
          </span>
        ))}
      {shown.includes(OWN) && <OwnLines />}
    </div>
  );
}

function OwnLines() {
  const session = useSession();
  const lines = (useAt("/guides") ?? []) as Line[];
  const [held, setHeld] = useState<{ index: number; at: number } | null>(null);
  const put = (index: number, at: number) =>
    session.edit(
      at < 0 || at > 1
        ? [{ op: "remove", path: `/guides/${index}` }]
        : [{ op: "replace", path: `/guides/${index}/at`, value: Number(at.toFixed(4)) }],
    );
  const drag = (event: PointerEvent<HTMLElement>, index: number, way: Line["way"]) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const box = event.currentTarget.parentElement!.getBoundingClientRect();
    const target = event.currentTarget;
    target.setPointerCapture(event.pointerId);
    let at: number | null = null;
    const moved = (e: globalThis.PointerEvent) => {
      at = way === "upright" ? (e.clientX - box.left) / box.width : (e.clientY - box.top) / box.height;
      setHeld({ index, at });
    };
    const ended = (e: globalThis.PointerEvent) => {
      // The picture beneath is not what was clicked.
      e.stopPropagation();
      target.removeEventListener("pointermove", moved);
      target.removeEventListener("pointerup", ended);
      target.removeEventListener("pointercancel", ended);
      setHeld(null);
      if (at !== null) put(index, at);
    };
    target.addEventListener("pointermove", moved);
    target.addEventListener("pointerup", ended);
    target.addEventListener("pointercancel", ended);
  };
  return lines.map((line, index) => {
    const at = held?.index === index ? held.at : line.at;
    const share = `${100 * Math.max(0, Math.min(1, at))}%`;
    return (
      <i
        key={index}
        className={`own-line ${line.way}`}
        role="slider"
        tabIndex={0}
        aria-label={`${line.way === "upright" ? "Upright" : "Level"} line`}
        aria-orientation={line.way === "upright" ? "horizontal" : "vertical"}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * at)}
        style={line.way === "upright" ? { left: share } : { top: share }}
        onPointerDown={(e) => drag(e, index, line.way)}
        onKeyDown={(e) => {
          const step =
            (e.shiftKey ? 0.01 : 0.001) * { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[e.key]!;
          if (e.key === "Delete" || e.key === "Backspace")
            session.edit([{ op: "remove", path: `/guides/${index}` }]);
          else if (step) put(index, Math.max(0, Math.min(1, line.at + step)));
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
    );
  });
}
