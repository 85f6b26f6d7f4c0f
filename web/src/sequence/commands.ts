import type { Command } from "../parts/commands/commands";
import { moved, rolled, split } from "./line/geometry";
import type { OpenSequence, SequenceSession } from "./session";
import { see, useSequenceView } from "./view";

const group = "Sequence";
const now = () => useSequenceView.getState();
const opened = (session: SequenceSession) => (): OpenSequence => session.store.getState().open!;

/** Commands of time: playing, stepping, cuts, markers. */
export function timeCommands(session: SequenceSession): Command[] {
  const open = opened(session);
  const to = (frame: number) =>
    see({ frame: Math.max(0, Math.min(Math.max(0, open().total - 1), frame)), playing: false });
  const cuts = () => [0, ...open().starts, open().total];
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
    {
      id: "seq-back10",
      label: "Ten frames back",
      group,
      keys: ["Shift+ArrowLeft"],
      run: () => to(now().frame - 10),
    },
    {
      id: "seq-on10",
      label: "Ten frames on",
      group,
      keys: ["Shift+ArrowRight"],
      run: () => to(now().frame + 10),
    },
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
      id: "seq-marker",
      label: "Set a marker",
      group,
      keys: ["M"],
      run: () =>
        session.edit([{ op: "add", path: "/markers/-", value: { frame: now().frame, name: "", note: "" } }]),
    },
  ];
}

/** Commands of pieces: chosen, moved, cut, taken off. */
export function pieceCommands(session: SequenceSession): Command[] {
  const open = opened(session);
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
  return [
    {
      id: "seq-next-piece",
      label: "Choose the next piece",
      group,
      keys: ["Mod+ArrowRight"],
      run: () => choose(1),
    },
    {
      id: "seq-piece-before",
      label: "Choose the piece before",
      group,
      keys: ["Mod+ArrowLeft"],
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
      id: "seq-cut-earlier",
      label: "Move the cut after the piece earlier",
      group,
      keys: ["Alt+Shift+ArrowLeft"],
      run: () => piece() !== null && session.edit(rolled(open().document, piece()!, -1)),
    },
    {
      id: "seq-cut-later",
      label: "Move the cut after the piece later",
      group,
      keys: ["Alt+Shift+ArrowRight"],
      run: () => piece() !== null && session.edit(rolled(open().document, piece()!, 1)),
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
    { id: "seq-none", label: "Choose nothing", group, keys: ["Escape"], run: () => see({ chosen: null }) },
  ];
}

/** Commands of the sequence as a whole. */
export function sequenceCommands(session: SequenceSession, go: (to: string) => void): Command[] {
  const open = opened(session);
  return [
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
}
