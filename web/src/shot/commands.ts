import type { Command } from "../parts/commands/commands";
import type { Session } from "./document/session";
import { markerAt } from "./time/markers";
import { keyFrames, type useKeyCommands } from "./time/useKeyCommands";
import type { useCameraCommands } from "./bench/useCameraCommands";
import type { Addable } from "./artwork/useAddable";
import type { useAdding } from "./useAdding";
import type { useRemoving } from "./useRemoving";
import { addressOf, chooseView, look, useView } from "./view";

type Keys = ReturnType<typeof useKeyCommands>;
type Cameras = ReturnType<typeof useCameraCommands>;

/** Commands of time: playing, stepping, keys, markers, the range. */
export function timeCommands(session: Session, keys: Keys): Command[] {
  const shot = () => session.store.getState().shot!;
  const last = () => shot().format!.frames! - 1;
  const step = (by: number) =>
    look({ playing: false, frame: Math.max(0, Math.min(last(), useView.getState().frame + by)) });
  const toKey = (forward: boolean) => {
    const { frame } = useView.getState();
    const frames = keyFrames(shot().channels ?? {});
    const found = forward ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
    if (found !== undefined) look({ frame: found, playing: false });
  };
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
  ];
}

/** Commands of the picture. */
export function pictureCommands(session: Session, { frameTitles, cutToNext }: Cameras): Command[] {
  const type = () => {
    const { pointed } = useView.getState();
    const things = Object.entries(session.store.getState().shot!.things ?? {});
    const titles = things.filter(([, thing]) => thing.kind === "title");
    const title =
      typeof pointed === "object" && titles.some(([id]) => id === pointed.thing)
        ? pointed.thing
        : titles[0]?.[0];
    if (title) look({ typing: title, pointed: { thing: title } });
  };
  return [
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
    {
      id: "cut",
      label: "Cut to the next camera at the present frame",
      group: "Picture",
      keys: ["Shift+C"],
      run: cutToNext,
    },
    {
      id: "swap",
      label: "Show the picture and its plate alone in turn",
      group: "Picture",
      keys: ["Y"],
      run: () => look({ swaps: !useView.getState().swaps }),
    },
    { id: "type", label: "Type words in place", group: "Picture", keys: ["Enter"], run: type },
  ];
}

/** Commands of the shot as a whole. */
export function shotCommands(
  session: Session,
  keys: Keys,
  addable: Addable[],
  adding: ReturnType<typeof useAdding>,
  removing: ReturnType<typeof useRemoving>,
  cameras: Cameras,
  go: (to: string) => void,
): Command[] {
  const remove = () => {
    const { chosen, pointed } = useView.getState();
    if (chosen.length) keys.remove();
    else if (typeof pointed === "object") void removing.thing(pointed.thing);
    else if (pointed.startsWith("camera:")) void cameras.removeCamera(addressOf(pointed));
  };
  const export_ = () => location.assign(`/api/shots/${session.id}/file`);
  const duplicate = (mirrored: boolean) => {
    const { pointed } = useView.getState();
    const things = session.store.getState().shot?.things;
    if (typeof pointed !== "object" || (mirrored && things?.[pointed.thing]?.kind !== "light")) return;
    void adding.copy(pointed.thing, mirrored);
  };
  return [
    {
      id: "undo",
      label: "Undo",
      group: "Shot",
      keys: ["Mod+Z"],
      always: false,
      run: () => void session.undo(),
    },
    { id: "redo", label: "Redo", group: "Shot", keys: ["Mod+Shift+Z"], run: () => void session.redo() },
    ...addable.map(({ does, keys, run }) => ({ id: does, label: does, group: "Shot", keys, run })),
    {
      id: "duplicate",
      label: "Duplicate what is pointed at, with its keys",
      group: "Shot",
      run: () => duplicate(false),
    },
    {
      id: "mirrored",
      label: "Duplicate the light pointed at, mirrored",
      group: "Shot",
      run: () => duplicate(true),
    },
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
    {
      id: "values",
      label: "To the values of what is pointed at",
      group: "Shot",
      keys: ["V"],
      run: () => document.querySelector<HTMLElement>(".bench .chooser-now")?.focus(),
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
}
