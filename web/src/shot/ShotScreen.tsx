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
import { DeliverForm } from "./deliver/DeliverForm";
import { SessionContext, useAt, useSession, useShotState } from "./document/context";
import { Session } from "./document/session";
import { Picture } from "./picture/Picture";
import { Plot } from "./plot/Plot";
import { newLight, newTitle } from "./things";
import { Time } from "./time/Time";
import { keyFrames, useKeyCommands } from "./time/useKeyCommands";
import { usePlayback } from "./usePlayback";
import { markerAt } from "./time/markers";
import { useRecording } from "./useRecording";
import { useSound } from "./useSound";
import { useRemoving } from "./useRemoving";
import { useValueCommands } from "./useValueCommands";
import { chooseView, freshView, look, point, useView } from "./view";
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
  const { frameTitles } = useCameraCommands();
  const keys = useKeyCommands();
  const removing = useRemoving();
  const commands = useMemo<Command[]>(() => {
    const shot = () => session.store.getState().shot!;
    const last = () => shot().format!.frames! - 1;
    const step = (by: number) =>
      look({ playing: false, frame: Math.max(0, Math.min(last(), useView.getState().frame + by)) });
    const add = (make: typeof newTitle) => {
      const made = make(shot());
      session.edit(made.patch);
      point({ thing: made.id });
    };
    const toKey = (forward: boolean) => {
      const { frame } = useView.getState();
      const frames = keyFrames(shot().channels ?? {});
      const found = forward ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
      if (found !== undefined) look({ frame: found, playing: false });
    };
    const remove = () => {
      const { chosen, pointed } = useView.getState();
      if (chosen.length) keys.remove();
      else if (typeof pointed === "object") void removing.thing(pointed.thing);
    };
    const type = () => {
      const { pointed } = useView.getState();
      const titles = Object.entries(shot().things ?? {}).filter(([, thing]) => thing.kind === "title");
      const title =
        typeof pointed === "object" && titles.some(([id]) => id === pointed.thing)
          ? pointed.thing
          : titles[0]?.[0];
      if (title) look({ typing: title, pointed: { thing: title } });
    };
    const export_ = () => location.assign(`/api/shots/${session.id}/file`);
    return [
      {
        id: "play",
        label: "Play or pause",
        group: "Time",
        keys: ["Space"],
        run: () => look({ playing: !useView.getState().playing }),
      },
      { id: "back", label: "One frame back", group: "Time", keys: ["ArrowLeft"], run: () => step(-1) },
      { id: "on", label: "One frame on", group: "Time", keys: ["ArrowRight"], run: () => step(1) },
      {
        id: "back10",
        label: "Ten frames back",
        group: "Time",
        keys: ["Shift+ArrowLeft"],
        run: () => step(-10),
      },
      { id: "on10", label: "Ten frames on", group: "Time", keys: ["Shift+ArrowRight"], run: () => step(10) },
      { id: "first", label: "First frame", group: "Time", keys: ["Home"], run: () => look({ frame: 0 }) },
      { id: "last", label: "Last frame", group: "Time", keys: ["End"], run: () => look({ frame: last() }) },
      { id: "keys-copy", label: "Copy the chosen keys", group: "Time", keys: ["Mod+C"], run: keys.copy },
      {
        id: "keys-paste",
        label: "Paste keys at the present frame, onto what is pointed at",
        group: "Time",
        keys: ["Mod+V"],
        run: () => void keys.change("paste"),
      },
      {
        id: "record",
        label: "Record: every change sets a key",
        group: "Time",
        keys: ["R"],
        run: () => look({ recording: !useView.getState().recording }),
      },
      {
        id: "marker",
        label: "Set or remove a marker",
        group: "Time",
        keys: ["Shift+M"],
        run: () => session.edit(markerAt(shot(), useView.getState().frame)),
      },
      {
        id: "range-begin",
        label: "Play from here",
        group: "Time",
        keys: ["Shift+B"],
        run: () => {
          const { frame, range } = useView.getState();
          look({ range: [frame, Math.max(frame, range?.[1] ?? last())] });
        },
      },
      {
        id: "range-end",
        label: "Play up to here",
        group: "Time",
        keys: ["Shift+E"],
        run: () => {
          const { frame, range } = useView.getState();
          look({ range: [Math.min(frame, range?.[0] ?? 0), frame] });
        },
      },
      {
        id: "range-none",
        label: "Play all",
        group: "Time",
        keys: ["Shift+A"],
        run: () => look({ range: null }),
      },
      { id: "key-before", label: "To the key before", group: "Time", keys: ["["], run: () => toKey(false) },
      { id: "key-after", label: "To the key after", group: "Time", keys: ["]"], run: () => toKey(true) },
      {
        id: "keys-earlier",
        label: "Chosen keys one frame earlier",
        group: "Time",
        keys: ["Alt+ArrowLeft"],
        run: () => keys.move(-1),
      },
      {
        id: "keys-later",
        label: "Chosen keys one frame later",
        group: "Time",
        keys: ["Alt+ArrowRight"],
        run: () => keys.move(1),
      },
      {
        id: "trace",
        label: "Live or traced view",
        group: "Picture",
        keys: ["T"],
        run: () => chooseView(!useView.getState().traced),
      },
      {
        id: "plot",
        label: "Show or hide the plot",
        group: "Picture",
        keys: ["P"],
        run: () => look({ plot: !useView.getState().plot }),
      },
      { id: "frame", label: "Frame the title", group: "Picture", keys: ["O"], run: frameTitles },
      { id: "type", label: "Type words in place", group: "Picture", keys: ["Enter"], run: type },
      {
        id: "undo",
        label: "Undo",
        group: "Shot",
        keys: ["Mod+Z"],
        always: false,
        run: () => void session.undo(),
      },
      { id: "redo", label: "Redo", group: "Shot", keys: ["Mod+Shift+Z"], run: () => void session.redo() },
      { id: "add-title", label: "Add a title", group: "Shot", keys: ["Shift+W"], run: () => add(newTitle) },
      { id: "add-light", label: "Add a light", group: "Shot", keys: ["Shift+L"], run: () => add(newLight) },
      {
        id: "remove",
        label: "Remove chosen keys, or what is pointed at",
        group: "Shot",
        keys: ["Delete", "Backspace"],
        run: remove,
      },
      {
        id: "release",
        label: "Point at nothing",
        group: "Shot",
        keys: ["Escape"],
        run: () => look({ pointed: "shot", chosen: [] }),
      },
      { id: "deliver", label: "Deliver", group: "Shot", keys: ["D"], run: () => look({ delivering: true }) },
      { id: "export", label: "Export as a shot file", group: "Shot", run: export_ },
      {
        id: "up",
        label: "Back to the production",
        group: "Shot",
        run: () => go(`/productions/${session.store.getState().production?.id ?? ""}`),
      },
    ];
  }, [session, go, frameTitles, keys, removing]);
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
