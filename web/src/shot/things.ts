import { useMemo } from "react";
import type { IconName } from "../parts/Icon";
import { useSession, useShotState } from "./document/context";
import type { Shot } from "./document/patches";
import { escaped } from "./document/pointer";
import type { Pointed } from "./view";

/** What a shot has besides its things. */
type Beside = "camera" | "sound" | "surroundings" | "backdrop" | "optics" | "plate";

export interface Listed {
  key: string;
  pointed: Pointed;
  kind: NonNullable<NonNullable<Shot["things"]>[string]["kind"]> | Beside;
  name: string;
  icon: IconName;
  /** Address below which its values lie. */
  at: string;
}

/** What stands in the open shot; changes only when something comes, goes or is renamed. */
export function useListed(): Listed[] {
  const session = useSession();
  const signature = useShotState((s) =>
    JSON.stringify([
      Object.entries(s.shot?.things ?? {}).map(([id, thing]) => [id, thing.kind, nameOf(thing)]),
      Object.entries(s.shot?.sounds ?? {}).map(([id, sound]) => [id, sound.name]),
      s.shot?.camera?.name,
      Object.entries(s.shot?.cameras ?? {}).map(([id, camera]) => [id, camera.name]),
      s.shot?.plate?.clip,
    ]),
  );
  // eslint-disable-next-line react-hooks/exhaustive-deps
  return useMemo(() => listed(session.store.getState().shot!), [session, signature]);
}

interface Kind {
  icon: IconName;
  /** Whether things of the kind have a body. */
  body?: true;
}

/** Every kind there is, with what the interface knows of it. */
const KINDS: Record<Listed["kind"], Kind> = {
  camera: { icon: "camera" },
  title: { icon: "words", body: true },
  mark: { icon: "mark", body: true },
  sheet: { icon: "sheet", body: true },
  mesh: { icon: "mesh", body: true },
  floor: { icon: "floor", body: true },
  strand: { icon: "wave", body: true },
  swarm: { icon: "grains", body: true },
  light: { icon: "lamp" },
  pivot: { icon: "pivot" },
  sound: { icon: "sound" },
  surroundings: { icon: "round" },
  backdrop: { icon: "backdrop" },
  optics: { icon: "lens" },
  plate: { icon: "film" },
};

/** Whether things of a kind have a body. */
export const isBodied = (kind: Listed["kind"] | undefined): boolean =>
  kind !== undefined && KINDS[kind].body === true;

/** Whether other things may hang on things of a kind. */
export const hasPlace = (kind: Listed["kind"]): boolean => isBodied(kind) || kind === "pivot";

/** What a thing is called: a title that nobody named is known by its words. */
const nameOf = (thing: NonNullable<Shot["things"]>[string]): string =>
  thing.kind === "title" && thing.name === "Title"
    ? (thing.words ?? "").replace(/\s+/g, " ").trim().slice(0, 40) || "Title"
    : thing.name!;

/** Of several things of one name all but the first have a number behind it, to choose among them. */
function toldApart(things: Listed[]): Listed[] {
  const taken = new Set<string>();
  return things.map((thing) => {
    let { name } = thing;
    for (let n = 2; taken.has(name); n++) name = `${thing.name} ${n}`;
    taken.add(name);
    return name === thing.name ? thing : { ...thing, name };
  });
}

/** Everything that stands in a shot, in the order of work. */
export function listed(shot: Shot): Listed[] {
  const things = Object.entries(shot.things ?? {}).map(([id, thing]): Listed => ({
    key: id,
    pointed: { thing: id },
    kind: thing.kind!,
    name: nameOf(thing),
    icon: KINDS[thing.kind!].icon,
    at: `/things/${escaped(id)}`,
  }));
  const sounds = Object.entries(shot.sounds ?? {}).map(([id, sound]): Listed => ({
    key: id,
    pointed: `sound:${id}`,
    kind: "sound",
    name: sound.name!,
    icon: KINDS.sound.icon,
    at: `/sounds/${escaped(id)}`,
  }));
  const cameras = Object.entries(shot.cameras ?? {}).map(([id, camera]): Listed => ({
    key: `@camera:${id}`,
    pointed: `camera:${id}`,
    kind: "camera",
    name: camera.name!,
    icon: KINDS.camera.icon,
    at: `/cameras/${escaped(id)}`,
  }));
  const fixed = (
    kind: "camera" | "surroundings" | "backdrop" | "optics" | "plate",
    name: string,
  ): Listed => ({
    key: `@${kind}`,
    pointed: kind,
    kind,
    name,
    icon: KINDS[kind].icon,
    at: `/${kind}`,
  });
  return toldApart([
    ...things.filter((thing) => thing.kind === "title"),
    ...things.filter((thing) => isBodied(thing.kind) && thing.kind !== "title"),
    ...things.filter((thing) => thing.kind === "light"),
    ...things.filter((thing) => thing.kind === "pivot"),
    ...(shot.plate?.clip ? [fixed("plate", "Plate")] : []),
    fixed("camera", shot.camera?.name ?? "Camera"),
    ...cameras,
    fixed("surroundings", "Surroundings"),
    fixed("backdrop", "Backdrop"),
    fixed("optics", "Optics"),
    ...sounds,
  ]);
}
