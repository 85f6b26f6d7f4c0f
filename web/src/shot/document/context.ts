import { createContext, useContext, useMemo } from "react";
import { useStore } from "zustand";
import type { Schemas } from "../../api/client";
import { valueAt } from "./pointer";
import type { Session, SessionState } from "./session";
import { MOVERS } from "./values";

type Key = Schemas["Key"];
type Channel = Schemas["Channel"];

export const SessionContext = createContext<Session | null>(null);

export function useSession(): Session {
  return useContext(SessionContext)!;
}

export function useShotState<T>(pick: (state: SessionState) => T): T {
  return useStore(useSession().store, pick);
}

/**
 * The open shot as a whole; only used below the screen that waits for it, and only where little hangs on
 * it.
 */
export const useShot = () => useShotState((state) => state.shot)!;

/** One value of the shot; shown anew only when that value changes. */
export const useAt = (pointer: string): unknown => useShotState((state) => valueAt(state.shot, pointer));

const NO_CHANNELS: Record<string, Channel> = {};
const NO_KEYS: Key[] = [];

/** The keys of every value, by pointer. */
export const useChannels = () => useShotState((state) => state.shot?.channels ?? NO_CHANNELS);

/** Pointers of all values that move: by keys, drift or a coupling. */
export function useMoving(): string[] {
  const joined = useShotState(({ shot }) =>
    [
      ...new Set(
        MOVERS.filter((part) => part !== "changes").flatMap((part) => Object.keys(shot?.[part] ?? {})),
      ),
    ].join("\n"),
  );
  return useMemo(() => (joined ? joined.split("\n") : []), [joined]);
}

/** The keys of one value. */
export const useKeys = (pointer: string): Key[] =>
  useShotState((state) => state.shot?.channels?.[pointer]?.keys ?? NO_KEYS);

/** Size, rate and length. */
export const useFormat = () => useShotState((state) => state.shot!.format) as Format;

export interface Format {
  width: number;
  height: number;
  frames: number;
  rate: { num: number; den: number };
}
