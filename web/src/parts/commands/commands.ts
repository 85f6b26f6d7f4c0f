import { useEffect, useRef } from "react";
import { create } from "zustand";

/** Something one can do: from the palette, and by keys where it has any. */
export interface Command {
  id: string;
  label: string;
  group: string;
  /** Like `Space`, `Mod+Z`, `Shift+ArrowLeft`, `T`; several are alternatives. */
  keys?: string[];
  run: () => void;
  /** Also while typing in a field. */
  always?: boolean;
  /** Other words it is found by. */
  also?: string;
  /** One of very many: only found by typing. */
  searched?: boolean;
}

interface CommandState {
  sets: Map<symbol, Command[]>;
  palette: boolean;
  overlay: boolean;
}

export const useCommandState = create<CommandState>(() => ({
  sets: new Map(),
  palette: false,
  overlay: false,
}));

export const allCommands = (): Command[] => [...useCommandState.getState().sets.values()].flat();

/** Offer commands while the component is shown. */
export function useCommands(commands: Command[]): void {
  const own = useRef(Symbol("commands"));
  useEffect(() => {
    const key = own.current;
    const put = (value: Command[] | null) =>
      useCommandState.setState((state) => {
        const sets = new Map(state.sets);
        if (value) sets.set(key, value);
        else sets.delete(key);
        return { sets };
      });
    put(commands);
    return () => put(null);
  }, [commands]);
}

/** Name of a pressed combination, as commands write it. */
export function pressed(
  event: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "shiftKey" | "altKey">,
): string {
  const key = event.key === " " ? "Space" : event.key.length === 1 ? event.key.toUpperCase() : event.key;
  const letter = /^[A-Z0-9]$/.test(key) || key.length > 1;
  return [
    event.ctrlKey || event.metaKey ? "Mod+" : "",
    event.altKey ? "Alt+" : "",
    // Signs like ? carry their Shift already.
    event.shiftKey && letter ? "Shift+" : "",
    key,
  ].join("");
}

/** Events that tell by what a control was focused. */
export const FOCUSING = ["pointerdown", "keydown", "focusin"] as const;

let byPointer = false;
/** The control focused by a pointer, not by keys: whoever clicked it does not mean it with Space. */
let pointedAt: EventTarget | null = null;

export function handleFocus(event: Event): void {
  if (event.type === "focusin") pointedAt = byPointer ? event.target : null;
  else if (event.type === "pointerdown") byPointer = true;
  else if (/^(Tab|Arrow.*)$/.test((event as KeyboardEvent).key)) byPointer = false;
}

/** Keys a focused control needs for itself. */
function keepsKey(target: EventTarget | null, name: string): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.isContentEditable || target.tagName === "TEXTAREA" || target.tagName === "SELECT") return true;
  // A box that is ticked takes one key alone.
  if (target instanceof HTMLInputElement && target.type === "checkbox")
    return name === "Space" && target !== pointedAt;
  if (target instanceof HTMLInputElement) return !(target.readOnly && !/^Arrow|Enter|^[0-9]/.test(name));
  if (name === "Space" && target.tagName === "BUTTON" && target === pointedAt)
    return target.closest("[role=dialog]") !== null;
  if (name === "Space" || name === "Enter")
    return ["BUTTON", "A"].includes(target.tagName) || target.getAttribute("role") === "button";
  return (
    /^(Shift\+)?Arrow|^Home$|^End$/.test(name) &&
    target.closest("[data-arrows],[role=menu],[role=listbox],[role=dialog]") !== null
  );
}

const TOWARDS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** Arrow keys on one of a few choices choose its neighbour. */
function choosesNeighbour(event: KeyboardEvent): boolean {
  const { target } = event;
  const by = TOWARDS[event.key];
  if (!by || event.ctrlKey || event.metaKey || event.altKey || !(target instanceof HTMLElement)) return false;
  if (target.getAttribute("role") !== "radio") return false;
  const all = [...(target.closest("[role=radiogroup]")?.querySelectorAll<HTMLElement>("[role=radio]") ?? [])];
  const next = all[(all.indexOf(target) + by + all.length) % all.length];
  if (!next) return false;
  next.focus();
  next.click();
  return true;
}

export function handleKey(event: KeyboardEvent): void {
  const name = pressed(event);
  if (!event.defaultPrevented && choosesNeighbour(event)) return event.preventDefault();
  // Outside fields there is no text that anybody would want marked as a whole.
  if (name === "Mod+A" && !keepsKey(event.target, name)) event.preventDefault();
  const found = allCommands().find((command) => command.keys?.includes(name));
  if (!found || event.defaultPrevented || (!found.always && keepsKey(event.target, name))) return;
  event.preventDefault();
  found.run();
}
