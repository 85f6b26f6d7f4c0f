import { Button, Tooltip } from "@mui/material";
import { useEffect, useMemo, useRef, useState } from "react";
import { api, got, type Schemas } from "../../api/client";
import { useMotions } from "../../api/queries";
import { useCommands } from "../../parts/commands/commands";
import { Icon } from "../../parts/Icon";
import { say } from "../../parts/notices";
import { NumberField } from "../../parts/number/NumberField";
import { useAt, useFormat, useSession } from "../document/context";
import { fetchTrial } from "../document/scene";
import { isBodied, useListed, type Listed } from "../things";
import { look, useView } from "../view";
import { KeptMotions } from "./KeptMotions";
import { useTrial } from "./useTrial";

type Motion = Schemas["MotionInfo"];
type Span = Schemas["Span"];

const WHEN: Record<Motion["when"], string> = {
  arrival: "how it comes",
  hold: "what it does",
  departure: "how it leaves",
};
/** Frames after a movement that a trial shows as well. */
const AFTER = 12;

/** Ready-made movements of a thing: pointed at, they play in the picture; pressed, they are put on it. */
export function Motions({ thing }: { thing: Listed }) {
  const session = useSession();
  const key = typeof thing.pointed === "object" ? thing.key : thing.pointed;
  const all = useMotions();
  const offered = useMemo(() => all.filter(({ kinds }) => kinds.includes(thing.kind)), [all, thing.kind]);
  const { frames } = useFormat();
  const span = useAt(`${thing.at}/span`) as Span | undefined;
  const [takes, setTakes] = useState<number | null>(null);
  const [here, setHere] = useState(false);
  const [open, setOpen] = useState(thing.kind === "camera" || thing.kind === "light");
  const before = useRef<{ frame: number; playing: boolean } | null>(null);
  const [first, end] = !span || span.whole ? [0, frames] : [span.start!, span.end!];

  /** The wish for a movement: at the end it belongs to, or at the present frame. */
  function wish(motion: Motion): Schemas["MotionWish"] {
    const whole = motion.when === "hold" && takes === null;
    const length = Math.max(2, Math.min(end - first - 1, takes ?? (whole ? end - first - 1 : motion.frames)));
    const begin = motion.when === "departure" ? end - 1 - length : first;
    const now = before.current?.frame ?? useView.getState().frame;
    return { motion: motion.name, thing: key, frame: Math.max(0, here ? now : begin), frames: length };
  }

  const { enter: enterTrial, leave } = useTrial(() => {
    if (before.current) look({ ...before.current, range: null });
    before.current = null;
  });

  const enter = (motion: Motion) =>
    enterTrial(async () => {
      const { frame, playing } = useView.getState();
      before.current ??= { frame, playing };
      const asked = wish(motion);
      const scene = await fetchTrial(session.id, asked);
      // Pointed elsewhere by now: nothing of it is shown.
      if (!before.current) return scene;
      const last = Math.min(frames - 1, asked.frame! + asked.frames! + AFTER);
      look({ range: [Math.max(0, asked.frame! - AFTER / 2), last], playing: false });
      look({ frame: asked.frame!, playing: true, traced: false });
      return scene;
    });

  async function put(motion: Motion) {
    const asked = wish(motion);
    leave();
    const done = await session.offered(() =>
      got(api.POST("/api/shots/{shot}/motions", { params: { path: { shot: session.id } }, body: asked })),
    );
    if (done) look({ frame: asked.frame!, playing: false });
  }

  useMotionCommands(thing, offered, put);

  if (!offered.length) return null;
  return (
    <section className="group" aria-label="motion">
      <h3>
        <button className="group-fold" aria-expanded={open} onClick={() => setOpen(!open)}>
          <Icon name={open ? "down" : "right"} size={12} />
          motion
        </button>
      </h3>
      {open && (
        <>
          <div className="row">
            <NumberField
              label="takes"
              value={takes ?? 0}
              unit={takes === null ? "as it is" : "frames"}
              step={0.2}
              low={0}
              high={frames}
              tells="How long the movement takes; at 0 as long as it was made for"
              onChange={(next) => setTakes(next < 1 ? null : Math.round(next))}
            />
            <span className="reset-gap" />
          </div>
          <Tooltip
            title="Else it is put where it belongs: at the beginning, at the end, or over all"
            placement="left"
          >
            <label className="row switch-row">
              <span className="number-label">from the present frame</span>
              <input type="checkbox" checked={here} onChange={(e) => setHere(e.target.checked)} />
            </label>
          </Tooltip>
          {(Object.keys(WHEN) as Motion["when"][]).map((when) => {
            const listed = offered.filter((motion) => motion.when === when);
            if (!listed.length) return null;
            return (
              <div key={when} className="motions" role="group" aria-label={WHEN[when]} onPointerLeave={leave}>
                <span className="muted small">{WHEN[when]}</span>
                {listed.map((motion) => (
                  <Tooltip key={motion.name} title={motion.tells} placement="left" disableInteractive>
                    <button
                      className="motion"
                      onPointerEnter={() => enter(motion)}
                      onFocus={(e) => e.currentTarget.matches(":focus-visible") && enter(motion)}
                      onBlur={leave}
                      onClick={() => void put(motion)}
                    >
                      {motion.label}
                    </button>
                  </Tooltip>
                ))}
              </div>
            );
          })}
          {typeof thing.pointed === "object" && <KeptMotions thing={thing} />}
          {typeof thing.pointed === "object" && <CopyTo thing={thing} />}
        </>
      )}
    </section>
  );
}

/** Ready-made movements by name, for whoever types. */
function useMotionCommands(thing: Listed, offered: Motion[], put: (motion: Motion) => Promise<void>): void {
  const latest = useRef(put);
  useEffect(() => {
    latest.current = put;
  });
  const commands = useMemo(
    () =>
      offered.map((motion) => ({
        id: `motion ${thing.at} ${motion.name}`,
        label: `motion: ${motion.label}`,
        group: thing.name,
        searched: true,
        run: () => void latest.current(motion),
      })),
    [offered, thing.at, thing.name],
  );
  useCommands(commands);
}

/** Puts all that moves this thing on another one. */
function CopyTo({ thing }: { thing: Listed }) {
  const session = useSession();
  const [target, setTarget] = useState("");
  const others = useListed().filter(
    ({ key, kind }) => key !== thing.key && (isBodied(kind) || kind === "pivot" || kind === "light"),
  );
  if (!others.length) return null;
  const copy = () =>
    session.offered(async () => {
      const { lost } = await got(
        api.POST("/api/shots/{shot}/motions/copy", {
          params: { path: { shot: session.id } },
          body: { source: thing.key, target },
        }),
      );
      if (lost.length) say(`Some of it found no place there: ${lost.slice(0, 4).join(", ")}`);
    });
  return (
    <div className="row">
      <select
        className="plain-input choice-list"
        aria-label="Copy the movement to"
        value={target}
        onChange={(e) => setTarget(e.target.value)}
      >
        <option value="">copy it to …</option>
        {others.map((other) => (
          <option key={other.key} value={other.key}>
            {other.name}
          </option>
        ))}
      </select>
      <Button size="small" disabled={!target} onClick={() => void copy()}>
        Copy
      </Button>
    </div>
  );
}
