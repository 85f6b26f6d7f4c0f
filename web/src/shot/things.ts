import { useMemo } from "react";
import type { IconName } from "../parts/Icon";
import { useSession, useShotState } from "./document/context";
import type { Operation, Shot } from "./document/patches";
import { escaped } from "./document/pointer";
import { freeName } from "./document/values";
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
  return [
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
  ];
}

/** A new title below those that are there; the core fills in the rest. */
export function newTitle(shot: Shot): { id: string; patch: Operation[] } {
  const id = freeName(shot, "title");
  const lowest = Math.min(
    0.9,
    ...Object.values(shot.things ?? {}).map((t) => (t.kind === "title" ? (t.place?.position?.y ?? 0) : 0.9)),
  );
  const place = lowest < 0.9 ? { position: { x: 0, y: Number((lowest - 0.4).toFixed(3)), z: 0 } } : {};
  const size = lowest < 0.9 ? { setting: { size: 0.25 } } : {};
  return {
    id,
    patch: [
      {
        op: "add",
        path: `/things/${id}`,
        value: { kind: "title", name: "Title", words: "WORDS", place, ...size },
      },
    ],
  };
}

/** A floor under the lowest title. */
export function newFloor(shot: Shot): { id: string; patch: Operation[] } {
  const id = freeName(shot, "floor");
  const y = Math.min(
    0,
    ...Object.values(shot.things ?? {}).map((t) => (t.kind === "title" ? (t.place?.position?.y ?? 0) : 0)),
  );
  return {
    id,
    patch: [
      {
        op: "add",
        path: `/things/${id}`,
        value: { kind: "floor", name: "Floor", place: { position: { x: 0, y, z: 0 } } },
      },
    ],
  };
}

/** The first title, and where its letters are about in the middle. */
function firstTitle(shot: Shot): { id: string; x: number; y: number; z: number } {
  const [id, title] = Object.entries(shot.things ?? {}).find(([, thing]) => thing.kind === "title") ?? [];
  if (!title || title.kind !== "title") return { id: "", x: 0, y: 0.25, z: 0 };
  const { x = 0, y = 0, z = 0 } = title.place?.position ?? {};
  return { id: id!, x, y: Number((y + (title.setting?.size ?? 0.5) / 2).toFixed(3)), z };
}

/** A ring around the first title. */
export function newStrand(shot: Shot): { id: string; patch: Operation[] } {
  const id = freeName(shot, "strand");
  const { x, y, z } = firstTitle(shot);
  return {
    id,
    patch: [
      {
        op: "add",
        path: `/things/${id}`,
        value: { kind: "strand", name: "Strand", place: { position: { x, y, z } } },
      },
    ],
  };
}

/** A cloud around the first title, which it may gather on. */
export function newSwarm(shot: Shot): { id: string; patch: Operation[] } {
  const id = freeName(shot, "swarm");
  const { id: around, x, y, z } = firstTitle(shot);
  return {
    id,
    patch: [
      {
        op: "add",
        path: `/things/${id}`,
        value: { kind: "swarm", name: "Swarm", around, place: { position: { x, y, z } } },
      },
    ],
  };
}

/** A new light, above and in front. */
export function newLight(shot: Shot): { id: string; patch: Operation[] } {
  const id = freeName(shot, "light");
  return {
    id,
    patch: [
      {
        op: "add",
        path: `/things/${id}`,
        value: { kind: "light", name: "Light", position: { x: 0, y: 2.4, z: 2.2 } },
      },
    ],
  };
}

/** A copy of a thing with its keys, a little aside. */
export function copyOf(shot: Shot, thing: string): { id: string; patch: Operation[] } {
  const original = structuredClone(shot.things![thing]!);
  const id = freeName(shot, original.kind!);
  original.name = `${original.name!.slice(0, 110)} copy`;
  const place = original.kind === "light" ? original.position! : original.place!.position!;
  place.x = (place.x ?? 0) + 0.3;
  const from = `/things/${escaped(thing)}/`;
  const channels = Object.entries(shot.channels ?? {}).filter(([pointer]) => pointer.startsWith(from));
  return {
    id,
    patch: [
      { op: "add", path: `/things/${id}`, value: original },
      ...channels.map(([pointer, channel]): Operation => ({
        op: "add",
        path: `/channels/${escaped(`/things/${id}/${pointer.slice(from.length)}`)}`,
        value: channel,
      })),
    ],
  };
}

/** A copy of a light on the other side of what it aims at, with its keys mirrored. */
export function mirrorOf(shot: Shot, thing: string): { id: string; patch: Operation[] } {
  const made = copyOf(shot, thing);
  const light = made.patch[0] as {
    value: { kind: string; position?: { x?: number }; aim?: { x?: number }; name: string };
  };
  const middle = 2 * (light.value.aim?.x ?? 0);
  light.value.name = light.value.name.replace(/ copy$/, " mirrored");
  light.value.position!.x = middle - ((light.value.position!.x ?? 0) - 0.3);
  for (const operation of made.patch.slice(1) as {
    path: string;
    value: { keys: { value: number; ease?: unknown }[] };
  }[]) {
    if (!operation.path.endsWith("~1position~1x")) continue;
    operation.value = {
      ...operation.value,
      keys: operation.value.keys.map((key) => ({ ...key, value: middle - key.value })),
    };
  }
  return made;
}

/** A new pivot in the middle of the room. */
export function newPivot(shot: Shot): { id: string; patch: Operation[] } {
  const id = freeName(shot, "pivot");
  return { id, patch: [{ op: "add", path: `/things/${id}`, value: { kind: "pivot", name: "Pivot" } }] };
}
