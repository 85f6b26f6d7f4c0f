import { createContext, useContext } from "react";
import { useStore } from "zustand";
import type { OpenSequence, SequenceSession, SequenceState } from "./session";

export const SequenceContext = createContext<SequenceSession | null>(null);

export function useSequenceSession(): SequenceSession {
  const session = useContext(SequenceContext);
  if (!session) throw new Error("outside an open sequence");
  return session;
}

export function useSequenceState<T>(pick: (state: SequenceState) => T): T {
  return useStore(useSequenceSession().store, pick);
}

/** The sequence, which is open wherever this is asked. */
export const useOpen = (): OpenSequence => useSequenceState((s) => s.open!);
