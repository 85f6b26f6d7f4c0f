import { useEffect, useState } from "react";

const nameOf = (name: string) => `dreizack.pane.${name}`;

export const within = (size: number, low: number, high: number): number =>
  Math.max(low, Math.min(high, size));

/** How large a pane was left, between limits; what it is otherwise where nothing is known. */
export function remembered(name: string, otherwise: number, low: number, high: number): number {
  const found = Number.parseFloat(localStorage.getItem(nameOf(name)) ?? "");
  return within(Number.isFinite(found) ? found : otherwise, low, high);
}

export const remember = (name: string, size: number): void =>
  localStorage.setItem(nameOf(name), String(Math.round(size)));

export interface Pane {
  /** Pixels wanted; the layout never gives more than there is room for. */
  size: number;
  low: number;
  high: number;
  set: (size: number) => void;
}

/** The size of a pane between limits, as it was left. */
export function usePane(name: string, otherwise: number, low: number, high: number): Pane {
  const [size, setSize] = useState(() => remembered(name, otherwise, low, high));
  useEffect(() => {
    const later = setTimeout(() => remember(name, size), 250);
    return () => clearTimeout(later);
  }, [name, size]);
  return { size, low, high, set: (next) => setSize(within(next, low, high)) };
}
