import { useMemo } from "react";
import { useVocabulary } from "../api/queries";
import { useCommands, type Command } from "../parts/commands/commands";
import { applies } from "./bench/applies";
import { BENCH_ACTIONS } from "./benchActions";
import { useSession } from "./document/context";
import { useListed, type Listed } from "./things";
import { point } from "./view";

// Milliseconds until the bench shows what was pointed at, looked for again and again.
const LOOK = 40;
const LOOKS = 20;

/** Every value of everything in the shot, and what is done beside them, as a command: it is pointed at,
 * unfolded, and has the focus. */
export function useValueCommands(): void {
  const session = useSession();
  const vocabulary = useVocabulary();
  const listed = useListed();
  const commands = useMemo<Command[]>(() => {
    const shot = session.store.getState().shot!;
    return listed.flatMap((thing) => [
      ...(vocabulary?.values[thing.kind] ?? [])
        .filter((info) => info.kind !== "list" && applies(shot, thing.at, info))
        .map((info) => ({
          id: `value ${thing.at}${info.pointer}`,
          label: [info.group.split("/").at(-1), info.label].filter(Boolean).join(": "),
          also: info.choices.join(" "),
          group: thing.name,
          searched: true,
          run: () => goTo(thing, info.group, info.label),
        })),
      ...BENCH_ACTIONS.filter(({ of }) => of(thing.kind)).map(({ section, says }) => ({
        id: `action ${thing.at} ${section} ${says}`,
        label: [section, says].filter(Boolean).join(": "),
        group: thing.name,
        searched: true,
        run: () => goTo(thing, section, says),
      })),
    ]);
  }, [session, vocabulary, listed]);
  useCommands(commands);
}

function goTo(thing: Listed, group: string, label: string): void {
  point(thing.pointed);
  const title = group.split("/").at(-1) ?? "";
  let looks = 0;
  const timer = setInterval(() => {
    const bench = document.querySelector(".bench");
    const sections = [...(bench?.querySelectorAll("section.group") ?? [])];
    const named = title ? sections.find((one) => one.getAttribute("aria-label") === title) : undefined;
    const section = named ?? bench;
    const fold = section?.querySelector<HTMLElement>(".group-fold[aria-expanded=false]");
    if (title && fold) return fold.click();
    const found =
      section?.querySelector<HTMLElement>(`[aria-label="${CSS.escape(label)}"]`) ??
      [...(section?.querySelectorAll<HTMLElement>("button, a[href]") ?? [])].find(({ textContent }) =>
        textContent.includes(label),
      );
    if (found || ++looks > LOOKS) clearInterval(timer);
    if (!found) return;
    const focused = found.matches("[role=radiogroup]")
      ? (found.querySelector<HTMLElement>("[aria-checked=true]") ?? found)
      : found;
    focused.scrollIntoView({ block: "center" });
    focused.focus();
  }, LOOK);
}
