import { Tooltip } from "@mui/material";
import { Fragment, memo, useEffect, useMemo, useRef, useState, type CSSProperties } from "react";
import { useVocabulary, type ValueInfo } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import { shown } from "../../parts/number/arithmetic";
import { useAt, useChannels, useFormat, useMoving, useSession, useShotState } from "../document/context";
import { useShownFrame } from "../bench/useValue";
import { AddThings } from "../artwork/AddThings";
import { useListed, type Listed } from "../things";
import { useAdding } from "../useAdding";
import { looks } from "../document/cameras";
import { point, samePointed, toggleRow, useView } from "../view";
import { FanRow, useFans } from "./Fan";
import { KeyShape } from "./KeyShape";
import { valueName } from "./names";
import { Ruler } from "./Ruler";
import { useKeyBox } from "./useKeyBox";
import { toX, zoomed, toFrame, type Scale } from "./scale";
import { SoundWave } from "./SoundWave";
import { SpanBar } from "./SpanBar";
import { OverlaidRow, OverlayButton } from "./OverlaidRow";
import { Strand, STRAND, useKeyDrag } from "./Strand";
import { StrandEdge } from "./StrandEdge";
import { Transport } from "./Transport";
import { keyFrames } from "./useKeyCommands";
import "./time.css";

const NAMES = 206;
const NO_VALUES: Record<string, ValueInfo[]> = {};

/** One row per thing; a row unfolds into its strands. */
export function Time() {
  const { frames, rate } = useFormat();
  const moves = useMoving();
  const things = useListed();
  const unfolded = useView((s) => s.unfolded);
  const overlaid = useView((s) => s.overlaid);
  const pointed = useView((s) => s.pointed);
  const values = useVocabulary()?.values ?? NO_VALUES;
  const body = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  const [adding, setAdding] = useState<HTMLElement | null>(null);
  const [span, setSpan] = useState<{ from: number; to: number } | null>(null);
  const last = Math.max(1, frames - 1);
  const from = span ? Math.min(span.from, last - 1) : 0;
  const to = span ? Math.min(span.to, last) : last;
  const scale = useMemo<Scale>(() => ({ from, to, width }), [from, to, width]);

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) =>
      setWidth(Math.max(120, Math.floor(entry!.contentRect.width - NAMES))),
    );
    observer.observe(body.current!);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const place = (frame: number) =>
      head.current?.style.setProperty(
        "--x",
        `${NAMES + toX({ from: scale.from, to: scale.to, width }, frame)}px`,
      );
    place(useView.getState().frame);
    return useView.subscribe((state) => place(state.frame));
  }, [scale.from, scale.to, width]);

  function onWheel(event: React.WheelEvent<HTMLDivElement>) {
    if (!event.ctrlKey && !event.altKey && !event.shiftKey) return;
    const rect = event.currentTarget.getBoundingClientRect();
    const at = toFrame(scale, event.clientX - rect.left - NAMES);
    const delta = event.deltaY || event.deltaX;
    if (event.shiftKey) {
      const by = ((scale.to - scale.from) * delta) / 1200;
      const from = Math.max(0, Math.min(last - (scale.to - scale.from), scale.from + by));
      setSpan({ from, to: from + scale.to - scale.from });
    } else setSpan(zoomed(scale, frames, at, Math.exp(delta * 0.002)));
  }

  const box = useKeyBox();

  const making = useAdding();

  return (
    <section className="time" aria-label="Time" style={{ "--names": `${NAMES}px` } as CSSProperties}>
      <Transport />
      <div className="time-body" ref={body} onWheel={onWheel}>
        <div className="time-sheet" {...box.handlers}>
          {box.shown && <i className="key-box" style={box.shown} />}
          <div className="time-ruler">
            <div className="time-names">
              <Tooltip title="Add a title (Shift W)">
                <button className="add" onClick={() => void making.thing("title")}>
                  <Icon name="plus" size={13} /> Title
                </button>
              </Tooltip>
              <Tooltip title="Add a mark, a sheet, a mesh or a light">
                <button className="add" aria-haspopup="menu" onClick={(e) => setAdding(e.currentTarget)}>
                  <Icon name="plus" size={13} /> More
                </button>
              </Tooltip>
              <AddThings anchor={adding} onClose={() => setAdding(null)} />
            </div>
            <Ruler scale={scale} frames={frames} rate={rate} />
          </div>
          <div role="table" aria-label="Rows of time">
            {things.map((thing) => (
              <Fragment key={thing.key}>
                <ThingRow
                  thing={thing}
                  scale={scale}
                  frames={frames}
                  open={unfolded.has(thing.key)}
                  chosen={samePointed(thing.pointed, pointed)}
                />
                <Fans thing={thing} scale={scale} />
                {unfolded.has(thing.key) && overlaid.has(thing.key) && (
                  <OverlaidRow
                    thing={thing}
                    pointers={moves.filter((pointer) => pointer.startsWith(`${thing.at}/`))}
                    scale={scale}
                    frames={frames}
                  />
                )}
                {unfolded.has(thing.key) &&
                  !overlaid.has(thing.key) &&
                  moves
                    .filter((pointer) => pointer.startsWith(`${thing.at}/`))
                    .map((pointer) => (
                      <StrandRow
                        key={pointer}
                        pointer={pointer}
                        scale={scale}
                        frames={frames}
                        {...valueName(pointer, values, thing.kind)}
                      />
                    ))}
              </Fragment>
            ))}
          </div>
          <div className="playhead" ref={head} aria-hidden="true" />
        </div>
      </div>
    </section>
  );
}

/** When each letter does it, for every set whose letters do not begin together. */
function Fans({ thing, scale }: { thing: Listed; scale: Scale }) {
  const id = typeof thing.pointed === "object" ? thing.pointed.thing : null;
  return useFans(id).map((fan) => <FanRow key={fan.set} thing={id!} fan={fan} scale={scale} />);
}

const ThingRow = memo(function ThingRow({
  thing,
  scale,
  frames,
  open,
  chosen,
}: {
  thing: Listed;
  scale: Scale;
  frames: number;
  open: boolean;
  chosen: boolean;
}) {
  const channels = useChannels();
  const session = useSession();
  const picked = useView((s) => s.chosen);
  const drag = useKeyDrag(frames);
  const moving = keyFrames(channels, `${thing.at}/`);
  const unfolds = useMoving().some((pointer) => pointer.startsWith(`${thing.at}/`));
  const pointers = Object.keys(channels).filter((pointer) => pointer.startsWith(`${thing.at}/`));
  const at = (frame: number) =>
    pointers
      .filter((p) => channels[p]!.keys.some((key) => key.frame === frame))
      .map((pointer) => ({ pointer, frame }));
  const off = useAt(`${thing.at}/on`) === false;
  return (
    <div className={`time-row${chosen ? " chosen" : ""}`} role="row" aria-label={thing.name}>
      <div className="time-names" role="cell">
        <button
          className={`fold${open ? " open" : ""}`}
          disabled={!unfolds}
          aria-label={`${open ? "Fold" : "Unfold"} ${thing.name}`}
          aria-expanded={open}
          onClick={() => toggleRow(thing.key)}
        >
          <Icon name="right" size={13} />
        </button>
        <button
          className={`thing${off ? " off" : ""}`}
          onClick={() => point(thing.pointed)}
          onDoubleClick={() => unfolds && toggleRow(thing.key)}
        >
          <Icon name={thing.icon} size={15} />
          <span>{thing.name}</span>
        </button>
        {open && <OverlayButton thing={thing} />}
        {(thing.kind === "light" || thing.kind === "sound") && (
          <Tooltip title={`Switch it ${off ? "on" : "off"}`}>
            <button
              className="lamp"
              aria-pressed={!off}
              aria-label={`${thing.name} ${thing.kind === "sound" ? "heard" : "lit"}`}
              onClick={() => session.edit([{ op: "replace", path: `${thing.at}/on`, value: off }])}
            >
              <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
                <circle cx="6" cy="6" r="3.4" fill={off ? "none" : "currentColor"} stroke="currentColor" />
              </svg>
            </button>
          </Tooltip>
        )}
      </div>
      <div role="cell">
        <svg className="track" width={scale.width} height={28}>
          {thing.kind === "sound" && <SoundWave id={thing.key} scale={scale} />}
          {thing.kind === "camera" && <Looks at={thing.at} name={thing.name} scale={scale} frames={frames} />}
          {typeof thing.pointed === "object" && <SpanBar thing={thing.key} name={thing.name} scale={scale} />}
          {moving.length > 1 && (
            <line
              className="reach"
              x1={toX(scale, moving[0]!)}
              x2={toX(scale, moving.at(-1)!)}
              y1={14}
              y2={14}
            />
          )}
          <ChangeMarks at={thing.at} scale={scale} />
          {moving.map((frame, place) => {
            const together = at(frame);
            const eases = new Set(
              together.map((k) => channels[k.pointer]!.keys.find((key) => key.frame === frame)!.ease!.kind),
            );
            return (
              <KeyShape
                key={place}
                x={toX(scale, frame)}
                y={14}
                ease={eases.size === 1 ? [...eases][0]! : "cubic-bezier"}
                chosen={together.some((k) =>
                  picked.some((c) => c.pointer === k.pointer && c.frame === frame),
                )}
                label={`Keys of ${thing.name} at frame ${frame}`}
                keys={together}
                onPointerDown={(e) => drag.start(e, together[0]!, scale, null, together)}
                onPointerMove={drag.move}
                onPointerUp={drag.end}
              />
            );
          })}
        </svg>
      </div>
    </div>
  );
});

/** Where a camera is looked through, where there are several. */
function Looks({ at, name, scale, frames }: { at: string; name: string; scale: Scale; frames: number }) {
  const told = useShotState(({ shot }) =>
    shot && Object.keys(shot.cameras ?? {}).length
      ? looks(shot, frames)
          .filter((one) => one.at === at)
          .map(({ first, end }) => `${first} ${end}`)
          .join()
      : "",
  );
  return (told ? told.split(",") : []).map((look) => {
    const [first, end] = look.split(" ").map(Number) as [number, number];
    const [left, right] = [toX(scale, first), toX(scale, end)];
    return (
      <rect
        key={first}
        className="camera-look"
        x={left}
        y={5}
        width={Math.max(2, right - left - 1)}
        height={18}
        rx={3}
      >
        <title>{`${name} is looked through from frame ${first} to ${end - 1}`}</title>
      </rect>
    );
  });
}

/** Frames at which choices, switches or texts of a thing change. */
function ChangeMarks({ at, scale }: { at: string; scale: Scale }) {
  const frames = useShotState(({ shot }) =>
    Object.entries(shot?.changes ?? {})
      .filter(([pointer]) => pointer.startsWith(`${at}/`))
      .flatMap(([, { keys }]) => keys.map((key) => key.frame ?? 0))
      .join(),
  );
  return (frames ? [...new Set(frames.split(","))] : []).map((frame) => (
    <path
      key={frame}
      className="change-mark"
      d={`M${toX(scale, Number(frame))} 2v24`}
      aria-label={`Something changes at frame ${frame}`}
    />
  ));
}

const StrandRow = memo(function StrandRow({
  pointer,
  scale,
  frames,
  name,
  info,
}: {
  pointer: string;
  scale: Scale;
  frames: number;
  name: string;
  info?: ValueInfo;
}) {
  const scene = useShotState((s) => s.scene);
  const frame = useShownFrame();
  const value = scene?.valueAt(pointer, frame);
  const tall = useView((s) => s.strands[pointer] ?? STRAND);
  return (
    <div className="strand-row" role="row" aria-label={name} style={{ height: tall }}>
      <div className="time-names" role="cell">
        <span className="strand-name">{name}</span>
        <span className="mono strand-value">
          {value === undefined ? "" : shown(value, info?.step)}
          <small> {info?.unit}</small>
        </span>
      </div>
      <div role="cell">
        <Strand pointer={pointer} scale={scale} frames={frames} name={name} tall={tall} />
        <StrandEdge of={pointer} name={name} tall={tall} />
      </div>
    </div>
  );
});
