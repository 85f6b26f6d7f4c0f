import { createContext, useContext } from "react";
import { useStore } from "zustand";
import type { Session, SessionState } from "./session";

export const SessionContext = createContext<Session | null>(null);

export function useSession(): Session {
  return useContext(SessionContext)!;
}

export function useShotState<T>(pick: (state: SessionState) => T): T {
  return useStore(useSession().store, pick);
}

/** The open shot; only used below the screen that waits for it. */
export const useShot = () => useShotState((state) => state.shot)!;
