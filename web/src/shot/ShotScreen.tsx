import { Button, IconButton, Tooltip } from "@mui/material";
import { useEffect, useMemo, useRef, type CSSProperties } from "react";
import { Link, useLocation } from "wouter";
import { useStore } from "zustand";
import { useCommands, type Command } from "../parts/commands/commands";
import { Icon } from "../parts/Icon";
import { Separator } from "../parts/panes/Separator";
import { usePane } from "../parts/panes/usePane";
import { Top } from "../parts/Top";
import { Bench } from "./bench/Bench";
import { useCameraCommands } from "./bench/useCameraCommands";
import { useAddable } from "./artwork/useAddable";
import { DeliverForm } from "./deliver/DeliverForm";
import { SessionContext, useAt, useSession, useShotState } from "./document/context";
import { Session } from "./document/session";
import { Picture } from "./picture/Picture";
import { Plot } from "./plot/Plot";
import { pictureCommands, shotCommands, timeCommands } from "./commands";
import { Time } from "./time/Time";
import { useKeyCommands } from "./time/useKeyCommands";
import { usePlayback } from "./usePlayback";
import { useRecording } from "./useRecording";
import { useSound } from "./useSound";
import { useTravelled } from "./useTravelled";
import { useAdding } from "./useAdding";
import { useRemoving } from "./useRemoving";
import { useValueCommands } from "./useValueCommands";
import { freshView, look, point, useView } from "./view";
import "./shot.css";

/** The main screen: one shot, its picture, plot, bench and time. */
export default function ShotScreen({ id }: { id: string }) {
  const session = useMemo(() => new Session(id), [id]);
  useEffect(() => {
    freshView();
    // A new shot opens with its title on the bench: its words come first.
    const { pointAt } = (history.state ?? {}) as { pointAt?: string };
    if (pointAt) point({ thing: pointAt });
    session.open();
    const guard = (event: BeforeUnloadEvent) => {
      if (session.store.getState().waiting) event.preventDefault();
    };
    window.addEventListener("beforeunload", guard);
    return () => {
      window.removeEventListener("beforeunload", guard);
      session.close();
    };
  }, [session]);
  const ready = useStore(session.store, (s) => s.shot !== null);
  const fault = useStore(session.store, (s) => s.fault);
  if (fault || !ready)
    return (
      <div className="page">
        <Top />
        <main className="sheet">
          <div className="empty">
            {fault ?? "Opening the shot …"}
            {fault && <Link href="/">Go to your productions</Link>}
          </div>
        </main>
      </div>
    );
  return (
    <SessionContext.Provider value={session}>
      <Opened />
    </SessionContext.Provider>
  );
}

function Opened() {
  const session = useSession();
  const name = String(useAt("/name"));
  const production = useShotState((s) => s.production);
  const canUndo = useShotState((s) => s.canUndo);
  const canRedo = useShotState((s) => s.canRedo);
  const plot = useView((s) => s.plot);
  const recording = useView((s) => s.recording);
  const deliverButton = useRef<HTMLButtonElement>(null);
  const delivering = useView((s) => s.delivering);
  const bench = usePane("bench", 306, 240, 640);
  const time = usePane("time", Math.max(190, Math.min(300, window.innerHeight * 0.3)), 110, 1600);
  const beside = usePane("plot", Math.max(230, Math.min(640, window.innerWidth * 0.21)), 160, 1600);
  usePlayback();
  useRecording();
  useSound();
  useShotCommands();
  useTravelled();
  useValueCommands();

  return (
    <div className="page">
      <Top>
        <span className="crumb">
          {production && <Link href={`/productions/${production.id}`}>{production.name}</Link>} /
        </span>
        <input
          key={name}
          className="plain-input shot-name"
          aria-label="Name of the shot"
          defaultValue={name}
          maxLength={120}
          size={Math.min(32, Math.max(8, name.length))}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          onBlur={(e) => {
            const next = e.target.value.trim();
            if (next && next !== name) session.edit([{ op: "replace", path: "/name", value: next }]);
            else e.target.value = name;
          }}
        />
        <Tooltip title="Undo (Ctrl Z)">
          <span>
            <IconButton aria-label="Undo" disabled={!canUndo} onClick={() => void session.undo()}>
              <Icon name="undo" size={16} />
            </IconButton>
          </span>
        </Tooltip>
        <Tooltip title="Redo (Ctrl Shift Z)">
          <span>
            <IconButton aria-label="Redo" disabled={!canRedo} onClick={() => void session.redo()}>
              <Icon name="redo" size={16} />
            </IconButton>
          </span>
        </Tooltip>
        <Saved />
        <span className="grow" />
        <Tooltip title="The lighting plot beside the picture (P)">
          <Button
            color="inherit"
            aria-pressed={plot}
            startIcon={<Icon name="plot" size={16} />}
            onClick={() => look({ plot: !plot })}
          >
            Plot
          </Button>
        </Tooltip>
        <Button ref={deliverButton} variant="contained" onClick={() => look({ delivering: true })}>
          Deliver
        </Button>
      </Top>
      <div
        className={`shot${recording ? " recording" : ""}`}
        style={
          {
            "--bench": `${bench.size}px`,
            "--time": `${time.size}px`,
            "--plot": `${beside.size}px`,
          } as CSSProperties
        }
      >
        <div className={`shot-views${plot ? " with-plot" : ""}`}>
          <Picture />
          {plot && (
            <div className="shot-plot">
              <Separator label="Width of the plot" pane={beside} side="right" />
              <Plot />
            </div>
          )}
        </div>
        <div className="shot-bench">
          <Separator label="Width of the bench" pane={bench} side="right" />
          <Bench />
        </div>
        <div className="shot-time">
          <Separator label="Height of time" pane={time} side="below" />
          <Time />
        </div>
      </div>
      <DeliverForm
        anchor={delivering ? deliverButton.current : null}
        onClose={() => look({ delivering: false })}
      />
    </div>
  );
}

function useShotCommands(): void {
  const session = useSession();
  const [, go] = useLocation();
  const cameras = useCameraCommands();
  const keys = useKeyCommands();
  const addable = useAddable();
  const adding = useAdding();
  const removing = useRemoving();
  const commands = useMemo<Command[]>(
    () => [
      ...timeCommands(session, keys),
      ...pictureCommands(session, cameras),
      ...shotCommands(session, keys, addable, adding, removing, cameras, go),
    ],
    [session, go, cameras, keys, addable, adding, removing],
  );
  useCommands(commands);
}

/** Whether every change has arrived. */
function Saved() {
  const waiting = useShotState((s) => s.waiting);
  const away = useShotState((s) => s.away);
  const full = useShotState((s) => s.full);
  return (
    <span className={away ? "saved away" : "saved muted"} role="status" aria-label="Saved">
      {away
        ? full
          ? "The disk is full; your changes are kept and sent again"
          : "Dreizack does not answer; your changes are kept and sent again"
        : waiting
          ? "saving …"
          : "saved"}
    </span>
  );
}
