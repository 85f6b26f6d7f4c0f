import { useCallback, useMemo } from "react";
import { api, got, type Schemas } from "../../api/client";
import { say } from "../../parts/notices";
import { useSession } from "../document/context";
import type { Operation, Shot } from "../document/patches";
import { escaped } from "../document/pointer";
import { keysOf, writeKeys, type Ease } from "../document/values";
import { look, useView, type ChosenKey } from "../view";
import { numberAt } from "../document/values";

type KeysWish = Schemas["KeysWish"];

const byPointer = (chosen: ChosenKey[]) => [...Map.groupBy(chosen, (key) => key.pointer)];

/** What one does with chosen keys. */
export function useKeyCommands() {
  const session = useSession();

  const remove = useCallback(() => {
    const { chosen, frame } = useView.getState();
    const { shot, scene } = session.store.getState();
    if (!shot) return;
    const patch = byPointer(chosen).flatMap(([pointer, gone]): Operation[] => {
      const rest = keysOf(shot, pointer).filter((key) => !gone.some((g) => g.frame === key.frame));
      if (rest.length) return writeKeys(pointer, rest);
      const value = scene?.valueAt(pointer, frame) ?? numberAt(shot, pointer);
      return [
        { op: "remove", path: `/channels/${escaped(pointer)}` },
        { op: "replace", path: pointer, value: Number(value.toPrecision(6)) },
      ];
    });
    session.edit(patch);
    look({ chosen: [] });
  }, [session]);

  const setEase = useCallback(
    (ease: Ease, gesture?: string) => {
      const shot = session.store.getState().shot;
      if (!shot) return;
      session.edit(
        byPointer(useView.getState().chosen).flatMap(([pointer, keys]) =>
          writeKeys(
            pointer,
            keysOf(shot, pointer).map((key) =>
              keys.some((k) => k.frame === key.frame) ? { ...key, ease } : key,
            ),
          ),
        ),
        gesture,
      );
    },
    [session],
  );

  const move = useCallback(
    (by: number) => {
      const { chosen } = useView.getState();
      const shot = session.store.getState().shot;
      if (!shot || !chosen.length) return;
      const frames = shot.format!.frames!;
      const step = Math.max(
        -Math.min(...chosen.map((k) => k.frame)),
        Math.min(frames - 1 - Math.max(...chosen.map((k) => k.frame)), by),
      );
      if (!step) return;
      session.edit(
        byPointer(chosen).flatMap(([pointer, keys]) => {
          const all = keysOf(shot, pointer);
          const moving = (f: number) => keys.some((k) => k.frame === f);
          return writeKeys(pointer, [
            ...all.filter((k) => !moving(k.frame)),
            ...all.filter((k) => moving(k.frame)).map((k) => ({ ...k, frame: k.frame + step })),
          ]);
        }),
        `keys-${Math.floor(Date.now() / 1500)}`,
      );
      look({ chosen: chosen.map((k) => ({ ...k, frame: k.frame + step })) });
    },
    [session],
  );

  /** What the core does with chosen keys; pasted are those that were copied. */
  const change = useCallback(
    async (what: KeysWish["what"], more: Partial<KeysWish> = {}) => {
      const { chosen, copied, frame, pointed } = useView.getState();
      const keys = what === "paste" ? copied : chosen;
      if (!keys.length) return;
      const named = Object.fromEntries(
        byPointer(keys).map(([pointer, list]) => [pointer, list.map((key) => key.frame)]),
      );
      const onto = what === "paste" && typeof pointed === "object" ? pointed.thing : "";
      await session.offered(async () => {
        const { lost } = await got(
          api.POST("/api/shots/{shot}/keys", {
            params: { path: { shot: session.id } },
            body: { what, chosen: named, about: frame, share: 1, times: 1, onto, ...more },
          }),
        );
        if (lost.length) say(`These found no place there: ${lost.slice(0, 4).join(", ")}`);
      });
      if (what !== "mirror") look({ chosen: [] });
    },
    [session],
  );
  const copy = useCallback(() => look({ copied: useView.getState().chosen }), []);

  return useMemo(() => ({ remove, setEase, move, change, copy }), [remove, setEase, move, change, copy]);
}

/** Frames with keys, of the whole shot or below an address. */
export function keyFrames(channels: NonNullable<Shot["channels"]>, below = ""): number[] {
  const frames = Object.entries(channels)
    .filter(([pointer]) => pointer.startsWith(below))
    .flatMap(([, channel]) => channel.keys.map((key) => key.frame));
  return [...new Set(frames)].sort((a, b) => a - b);
}
