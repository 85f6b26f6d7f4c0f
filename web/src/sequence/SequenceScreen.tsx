import { Button, IconButton, ListItemText, Menu, MenuItem, Tooltip } from "@mui/material";
import { useEffect, useMemo, useRef, useState, type CSSProperties } from "react";
import { Link, useLocation } from "wouter";
import { useStore } from "zustand";
import { useCommands, type Command } from "../parts/commands/commands";
import { Icon } from "../parts/Icon";
import { Separator } from "../parts/panes/Separator";
import { usePane } from "../parts/panes/usePane";
import { Top } from "../parts/Top";
import { Clock } from "../parts/Clock";
import { SequenceBench } from "./bench/SequenceBench";
import { SequenceContext, useOpen, useSequenceSession, useSequenceState } from "./context";
import { Line } from "./line/Line";
import { moved, split } from "./line/geometry";
import { OrderForm } from "./OrderForm";
import { ContactSheet } from "./ContactSheet";
import { SequencePicture } from "./SequencePicture";
import { SequenceSession } from "./session";
import { usePlaying } from "./usePictures";
import { useSequenceSound } from "./useSequenceSound";
import { freshSequenceView, see, useSequenceView } from "./view";
import "../shot/bench/bench.css";
import "../shot/shot.css";
import "../shot/time/time.css";
import "./sequence.css";

/** Shots on one line: what is handed over. */
export default function SequenceScreen({ id }: { id: string }) {
  const session = useMemo(() => new SequenceSession(id), [id]);
  useEffect(() => {
    freshSequenceView();
    session.open();
    return () => session.close();
  }, [session]);
  const ready = useStore(session.store, (s) => s.open !== null);
  const fault = useStore(session.store, (s) => s.fault);
  if (fault || !ready)
    return (
      <div className="page">
        <Top />
        <main className="sheet">
          <div className="empty">
            {fault ?? "Opening the sequence …"}
            {fault && <Link href="/">Go to your productions</Link>}
          </div>
        </main>
      </div>
    );
  return (
    <SequenceContext.Provider value={session}>
      <Opened />
    </SequenceContext.Provider>
  );
}

function Opened() {
  const session = useSequenceSession();
  const open = useOpen();
  const order = useRef<HTMLButtonElement>(null);
  const bench = usePane("bench", 306, 240, 640);
  const time = usePane("line", Math.max(190, Math.min(300, window.innerHeight * 0.3)), 130, 1600);
  const sheet = useSequenceView((s) => s.sheet);
  usePlaying();
  useSequenceSound();
  useSequenceCommands();
  return (
    <div className="page">
      <Top>
        <span className="crumb">
          <Link href={`/productions/${open.production}`}>{open.production_name}</Link> /
        </span>
        <input
          key={open.document.name}
          className="plain-input shot-name"
          aria-label="Name of the sequence"
          defaultValue={open.document.name}
          maxLength={120}
          size={Math.min(32, Math.max(8, open.document.name?.length ?? 8))}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          onBlur={(e) => {
            const next = e.target.value.trim();
            if (next && next !== open.document.name)
              session.edit([{ op: "replace", path: "/name", value: next }]);
            else e.target.value = open.document.name ?? "";
          }}
        />
        <Tooltip title="Undo (Ctrl Z)">
          <span>
            <IconButton aria-label="Undo" disabled={!open.can_undo} onClick={() => void session.undo()}>
              <Icon name="undo" size={16} />
            </IconButton>
          </span>
        </Tooltip>
        <Tooltip title="Redo (Ctrl Shift Z)">
          <span>
            <IconButton aria-label="Redo" disabled={!open.can_redo} onClick={() => void session.redo()}>
              <Icon name="redo" size={16} />
            </IconButton>
          </span>
        </Tooltip>
        <Saved />
        <span className="grow" />
        <Exports />
        <Button ref={order} variant="contained" onClick={() => see({ ordering: true })}>
          Deliver
        </Button>
      </Top>
      <div
        className="shot"
        style={{ "--bench": `${bench.size}px`, "--time": `${time.size}px` } as CSSProperties}
      >
        <div className="shot-views">{sheet ? <ContactSheet /> : <SequencePicture />}</div>
        <div className="shot-bench">
          <Separator label="Width of the bench" pane={bench} side="right" />
          <SequenceBench />
        </div>
        <div className="shot-time">
          <Separator label="Height of the line" pane={time} side="below" />
          <section className="time" aria-label="Time">
            <Transport />
            <Line />
          </section>
        </div>
      </div>
      <OrderForm anchor={order} />
    </div>
  );
}

function Saved() {
  const away = useSequenceState((s) => s.away);
  const waiting = useSequenceState((s) => s.waiting);
  if (away) return <span className="saved away">Dreizack does not answer; what you change is kept here</span>;
  return <span className="saved muted">{waiting ? "saving …" : "saved"}</span>;
}

/** Files for whoever goes on with it. */
function Exports() {
  const { id } = useOpen();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const kinds = [
    ["otio", "Timeline (OpenTimelineIO)", "everything but pictures: cuts, transitions, lanes, sounds"],
    ["edl", "Edit decision list", "the line alone, for older programs"],
    ["json", "Sequence file with its shots", "for dreizack render, or another machine"],
  ] as const;
  return (
    <>
      <Button color="inherit" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        Hand over as
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        {kinds.map(([kind, label, tells]) => (
          <MenuItem
            key={kind}
            component="a"
            href={`/api/sequences/${id}/file?kind=${kind}`}
            download
            onClick={() => setAnchor(null)}
          >
            <ListItemText primary={label} secondary={tells} />
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

function Transport() {
  const { document, total } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const playing = useSequenceView((s) => s.playing);
  const loop = useSequenceView((s) => s.loop);
  const rate = document.rate as { num: number; den: number };
  const step = (by: number) =>
    see({ frame: Math.max(0, Math.min(Math.max(0, total - 1), frame + by)), playing: false });
  const buttons = [
    ["first", "First frame (Home)", () => see({ frame: 0, playing: false })],
    ["earlier", "One frame back (←)", () => step(-1)],
    [
      playing ? "pause" : "play",
      playing ? "Pause (Space)" : "Play (Space)",
      () => see({ playing: !playing }),
    ],
    ["later", "One frame on (→)", () => step(1)],
    ["last", "Last frame (End)", () => see({ frame: Math.max(0, total - 1), playing: false })],
  ] as const;
  return (
    <div className="transport">
      {buttons.map(([icon, label, run]) => (
        <Tooltip key={icon} title={label}>
          <IconButton aria-label={label.replace(/ \(.*/, "")} onClick={run}>
            <Icon name={icon} size={16} />
          </IconButton>
        </Tooltip>
      ))}
      <Tooltip title={loop ? "Play again and again" : "Play once"}>
        <IconButton
          aria-label="Loop"
          aria-pressed={loop}
          color={loop ? "primary" : "default"}
          onClick={() => see({ loop: !loop })}
        >
          <Icon name="loop" size={16} />
        </IconButton>
      </Tooltip>
      <Clock frame={frame} frames={total} rate={rate} onGo={(to) => see({ frame: to, playing: false })} />
    </div>
  );
}

function useSequenceCommands(): void {
  const session = useSequenceSession();
  const [, go] = useLocation();
  const commands = useMemo<Command[]>(() => {
    const open = () => session.store.getState().open!;
    const to = (frame: number) =>
      see({ frame: Math.max(0, Math.min(Math.max(0, open().total - 1), frame)), playing: false });
    const now = () => useSequenceView.getState();
    const piece = () => {
      const { chosen } = now();
      return chosen?.kind === "piece" ? chosen.index : null;
    };
    const under = () => {
      const { starts, document } = open();
      return starts.findLastIndex(
        (start, i) => start <= now().frame && now().frame < start + document.line![i]!.frames!,
      );
    };
    const shift = (by: number) => {
      const from = piece();
      if (from === null) return;
      const target = Math.max(0, Math.min(open().document.line!.length - 1, from + by));
      session.edit(moved(from, target));
      see({ chosen: { kind: "piece", index: target } });
    };
    const cuts = () => [0, ...open().starts, open().total];
    const remove = () => {
      const { chosen } = now();
      if (!chosen) return;
      const at =
        chosen.kind === "piece"
          ? `/line/${chosen.index}`
          : chosen.kind === "laid"
            ? `/lanes/${chosen.lane}/pieces/${chosen.index}`
            : `/sounds/${chosen.id}`;
      session.edit([{ op: "remove", path: at }]);
      see({ chosen: null });
    };
    const choose = (by: number) => {
      const count = open().document.line!.length;
      if (!count) return;
      const at = piece() ?? (by > 0 ? -1 : count);
      see({ chosen: { kind: "piece", index: Math.max(0, Math.min(count - 1, at + by)) } });
    };
    const group = "Sequence";
    return [
      {
        id: "seq-play",
        label: "Play or pause",
        group,
        keys: ["Space"],
        run: () => see({ playing: !now().playing }),
      },
      { id: "seq-back", label: "One frame back", group, keys: ["ArrowLeft"], run: () => to(now().frame - 1) },
      { id: "seq-on", label: "One frame on", group, keys: ["ArrowRight"], run: () => to(now().frame + 1) },
      { id: "seq-first", label: "First frame", group, keys: ["Home"], run: () => to(0) },
      { id: "seq-last", label: "Last frame", group, keys: ["End"], run: () => to(open().total - 1) },
      {
        id: "seq-cut-before",
        label: "To the cut before",
        group,
        keys: ["PageUp"],
        run: () => to(cuts().findLast((f) => f < now().frame) ?? 0),
      },
      {
        id: "seq-cut-after",
        label: "To the next cut",
        group,
        keys: ["PageDown"],
        run: () => to(cuts().find((f) => f > now().frame) ?? open().total - 1),
      },
      {
        id: "seq-next-piece",
        label: "Choose the next piece",
        group,
        keys: ["Shift+ArrowRight"],
        run: () => choose(1),
      },
      {
        id: "seq-piece-before",
        label: "Choose the piece before",
        group,
        keys: ["Shift+ArrowLeft"],
        run: () => choose(-1),
      },
      {
        id: "seq-earlier",
        label: "Move the piece earlier",
        group,
        keys: ["Alt+ArrowLeft"],
        run: () => shift(-1),
      },
      {
        id: "seq-later",
        label: "Move the piece later",
        group,
        keys: ["Alt+ArrowRight"],
        run: () => shift(1),
      },
      {
        id: "seq-split",
        label: "Cut the piece in two at the present frame",
        group,
        keys: ["X"],
        run: () => {
          const index = under();
          if (index >= 0) session.edit(split(open().document, index, now().frame - open().starts[index]!));
        },
      },
      {
        id: "seq-remove",
        label: "Take off what is chosen",
        group,
        keys: ["Delete", "Backspace"],
        run: remove,
      },
      {
        id: "seq-marker",
        label: "Set a marker",
        group,
        keys: ["M"],
        run: () =>
          session.edit([
            { op: "add", path: "/markers/-", value: { frame: now().frame, name: "", note: "" } },
          ]),
      },
      { id: "seq-none", label: "Choose nothing", group, keys: ["Escape"], run: () => see({ chosen: null }) },
      { id: "seq-undo", label: "Undo", group, keys: ["Mod+Z"], run: () => void session.undo() },
      { id: "seq-redo", label: "Redo", group, keys: ["Mod+Shift+Z"], run: () => void session.redo() },
      { id: "seq-deliver", label: "Deliver", group, keys: ["Mod+Enter"], run: () => see({ ordering: true }) },
      {
        id: "seq-up",
        label: "Back to the production",
        group,
        run: () => go(`/productions/${open().production}`),
      },
    ];
  }, [session, go]);
  useCommands(commands);
}
