import { IconButton, Tooltip } from "@mui/material";
import { useEffect, useState, type ReactNode } from "react";
import { createPortal } from "react-dom";
import { api, got, type Schemas } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { sayFault } from "../../parts/notices";
import { useSession, useShot, useShotState } from "../document/context";
import { cameraAsked, lookedThrough } from "../document/cameras";
import { setValue } from "../document/values";
import { look, point, toggleRow, useView } from "../view";
import { PaintLight } from "./PaintLight";

type Card = Schemas["AnswerCard"];
const AXES = ["x", "y", "z"] as const;
// Milliseconds without a change before a spot is measured again.
const REST = 350;

/** What is at the spot that was asked for; null while it is being measured. */
function useCard(width: number, height: number): Card | null {
  const session = useSession();
  const asked = useView((s) => s.asked);
  const frame = useView((s) => s.frame);
  const playing = useView((s) => s.playing);
  const revision = useShotState((s) => (s.waiting ? -1 : s.revision));
  const [card, setCard] = useState<{ card: Card; of: object } | null>(null);

  useEffect(() => {
    if (!asked || playing || revision < 0) return;
    let stale = false;
    const timer = setTimeout(
      () => {
        void got(
          api.POST("/api/shots/{shot}/ask", {
            params: { path: { shot: session.id } },
            body: { frame, x: asked.x, y: asked.y, width, height },
          }),
        )
          .then((found) => !stale && setCard({ card: found as Card, of: asked }))
          .catch((why: unknown) => !stale && sayFault(why));
      },
      card?.of === asked ? REST : 0,
    );
    return () => {
      stale = true;
      clearTimeout(timer);
    };

    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [session, asked, frame, revision, playing, width, height]);
  return asked && card?.of === asked ? card.card : null;
}

/** What is at the spot that was clicked, and what makes it look so; every line leads to its control. */
export function AnswerCard({ width, height }: { width: number; height: number }) {
  const shot = useShot();
  const asked = useView((s) => s.asked);
  const plot = useView((s) => s.plot);
  const known = useCard(width, height);
  if (!asked) return null;
  const thing = known?.thing ? shot.things?.[known.thing] : undefined;
  const letter =
    thing?.kind === "title" && known && known.source >= 0
      ? `“${[...(thing.words ?? "")][known.source] ?? ""}” `
      : "";
  return (
    <>
      <i className="asked-spot" style={{ left: `${asked.x * 100}%`, top: `${asked.y * 100}%` }} />
      <Place over={!plot} side={asked.x > 0.5 ? "left" : "right"}>
        <section
          className="answer"
          aria-label="What is here"
          onPointerDown={(e) => e.stopPropagation()}
          onPointerUp={(e) => e.stopPropagation()}
          onDoubleClick={(e) => e.stopPropagation()}
          onWheel={(e) => e.stopPropagation()}
        >
          <header>
            {known ? (
              <>
                <i className="answer-colour" style={{ background: `rgb(${known.shown.join(" ")})` }} />
                <b>{thing ? `${letter}${known.part} of ${thing.name}` : "Backdrop"}</b>
              </>
            ) : (
              <b className="muted">measuring …</b>
            )}
            <Tooltip title="Close (Esc)">
              <IconButton aria-label="Close the answer" onClick={() => look({ asked: null })}>
                <Icon name="close" size={13} />
              </IconButton>
            </Tooltip>
          </header>
          {known && <Contributions card={known} />}
          {known?.says.map((sentence) => (
            <p key={sentence}>{sentence}</p>
          ))}
          {known && known.moves.length > 0 && (
            <ul className="answer-moves" aria-label="What moves it">
              {known.moves.map((one) => (
                <li key={one.at}>
                  <button onClick={() => showMover(one.at)} title="Shows it on the bench and in time">
                    <span>{one.label}</span>
                    <span className="answer-says">{one.says}</span>
                  </button>
                </li>
              ))}
            </ul>
          )}
          {known && known.contributions.length > 0 && <PaintLight card={known} at={asked} />}
          {known?.thing && <Doings card={known} floor={thing?.kind === "floor"} />}
        </section>
      </Place>
    </>
  );
}

/** What each light brings to the spot. */
function Contributions({ card }: { card: Card }) {
  if (!card.contributions.length) return null;
  const shown = (name: string) =>
    point(name === "surroundings" || name === "@sun" ? "surroundings" : { thing: name });
  return (
    <ul>
      {card.contributions.map((one) => (
        <li key={one.name}>
          <button onClick={() => shown(one.name)} title={`Shows ${one.label} on the bench`}>
            <span>{one.label}</span>
            <span
              className="answer-bar"
              style={{ "--share": Math.min(1, one.share) } as React.CSSProperties}
            />
            <span className="mono">
              {one.share >= 0.005
                ? `${Math.round(one.share * 100)} %`
                : one.behind > 0.98
                  ? "behind"
                  : one.blocked > 0.98
                    ? "blocked"
                    : "0 %"}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** What can be done with the spot: highlights and shadows put there, focus. */
function Doings({ card, floor }: { card: Card; floor: boolean }) {
  const session = useSession();
  const shot = useShot();
  const frame = useView((s) => s.frame);
  const things = Object.entries(shot.things ?? {});
  const lights = things.filter(([, one]) => one.kind === "light" && one.source !== "ambient");
  const titles = things.filter(([, one]) => one.kind === "title" || one.kind === "mark");
  const names = lights.map(([id, one]): [string, string] => [id, one.name!]);

  function place(light: string, path: "highlight" | "shadow") {
    const params = { path: { shot: session.id } };
    const body = { frame, light };
    const answer =
      path === "highlight"
        ? got(
            api.POST("/api/shots/{shot}/highlight", {
              params,
              body: { ...body, point: card.position, normal: card.normal },
            }),
          )
        : got(
            api.POST("/api/shots/{shot}/shadow", {
              params,
              body: { ...body, thing: titles[0]![0], target: card.position },
            }),
          );
    void answer
      .then((found) => {
        const now = session.store.getState().shot!;
        session.edit(
          (["position", "aim"] as const).flatMap((part) =>
            AXES.flatMap((axis) =>
              setValue(now, `/things/${light}/${part}/${axis}`, found[part][axis]!, frame),
            ),
          ),
        );
      })
      .catch(sayFault);
  }
  function focus() {
    const now = session.store.getState().shot!;
    const at = lookedThrough(now, frame);
    session.edit([
      { op: "replace", path: `${at}/defocus`, value: true },
      { op: "replace", path: `${at}/focus`, value: "distance" },
      ...setValue(now, `${at}/focus_distance`, Number(card.distance.toFixed(4)), frame),
    ]);
    point(cameraAsked(at) as "camera");
  }
  return (
    <footer>
      {lights.length > 0 && (
        <Choose label="Put the highlight here" options={names} onChoose={(id) => place(id, "highlight")} />
      )}
      {lights.length > 0 && titles.length > 0 && floor && (
        <Choose label="Put the shadow’s tip here" options={names} onChoose={(id) => place(id, "shadow")} />
      )}
      <button onClick={focus}>Focus here</button>
    </footer>
  );
}

/** Go to what moves something: its thing on the bench, its strands in time. */
function showMover(at: string) {
  const thing = at.split("/")[2]!;
  point({ thing });
  if (!useView.getState().unfolded.has(thing)) toggleRow(thing);
}

/** Where it hides nothing: at the foot of the plot, or over the picture on the other side of the spot. */
function Place({ over, side, children }: { over: boolean; side: "left" | "right"; children: ReactNode }) {
  const [foot, setFoot] = useState<Element | null>(null);
  useEffect(() => setFoot(over ? null : document.querySelector(".plot-foot")), [over]);
  return foot ? createPortal(children, foot) : <div className={`answer-over ${side}`}>{children}</div>;
}

function Choose({
  label,
  options,
  onChoose,
}: {
  label: string;
  options: [string, string][];
  onChoose: (id: string) => void;
}) {
  return (
    <select aria-label={label} value="" onChange={(e) => e.target.value && onChoose(e.target.value)}>
      <option value="">{label} …</option>
      {options.map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
}
