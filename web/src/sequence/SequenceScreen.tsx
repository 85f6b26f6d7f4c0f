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
import { pieceCommands, sequenceCommands, timeCommands } from "./commands";
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
  const commands = useMemo<Command[]>(
    () => [...timeCommands(session), ...pieceCommands(session), ...sequenceCommands(session, go)],
    [session, go],
  );
  useCommands(commands);
}
