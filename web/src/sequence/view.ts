import { create } from "zustand";

/** What is chosen in a sequence. */
export type Chosen =
  | { kind: "piece"; index: number }
  | { kind: "laid"; lane: number; index: number }
  | { kind: "sound"; id: string }
  | null;

interface SequenceView {
  frame: number;
  playing: boolean;
  loop: boolean;
  chosen: Chosen;
  ordering: boolean;
  /** Pictures that are not kept yet are made while nothing else is done. */
  drafting: boolean;
  version: string;
  /** Whether every version is looked at side by side. */
  sheet: boolean;
}

const FRESH: SequenceView = {
  frame: 0,
  playing: false,
  loop: false,
  chosen: null,
  ordering: false,
  drafting: true,
  version: "",
  sheet: false,
};

export const useSequenceView = create<SequenceView>(() => FRESH);
export const see = (some: Partial<SequenceView>): void => useSequenceView.setState(some);
export const freshSequenceView = (): void => useSequenceView.setState(FRESH);
