import { useEffect, useRef, type ReactNode } from "react";
import type { ValueInfo } from "../../api/queries";
import { useAt } from "../document/context";
import { ProfileRow } from "./ProfileRow";
import { ChoiceRow, ColourRow, NumberRow, SwitchRow, TripleRow } from "./Rows";

interface Props {
  infos: ValueInfo[];
  base: string;
  /** Group whose controls what was clicked belongs to. */
  lit?: string;
  /** Put above the values of a group. */
  before?: Record<string, ReactNode>;
  /** Values shown by something better. */
  without?: string[];
}

/** Values of a thing by groups, in the order of work. */
export function Groups({ infos, base, lit, before = {}, without = [] }: Props) {
  const groups = [...Map.groupBy(infos.filter((info) => !without.includes(info.pointer)), (info) => info.group)];
  return groups.map(([group, listed]) => (
    <Group key={group} title={group.split("/").at(-1)!} lit={lit !== undefined && group === lit}>
      {before[group]}
      {isTriple(listed) ? (
        <TripleRow infos={listed} base={base} name={group.split("/").at(-1)!} label={group} />
      ) : (
        listed.map((info) => <ValueRow key={info.pointer} info={info} at={base + info.pointer} />)
      )}
    </Group>
  ));
}

const isTriple = (infos: ValueInfo[]) => infos.length === 3 && infos.every((info) => info.kind === "number") && /\/(position|aim|rotation)\//.test(infos[0]!.pointer);

function ValueRow({ info, at }: { info: ValueInfo; at: string }) {
  const profile = useAt(at.replace(/\/\w+$/, "/profile"));
  // Reach and rise of an edge without a profile do nothing.
  if (/\/(reach|rise)$/.test(at) && profile === "none") return null;
  if (info.kind === "number") return <NumberRow info={info} at={at} />;
  if (info.kind === "colour") return <ColourRow info={info} at={at} />;
  if (info.kind === "choice" && info.pointer.endsWith("/profile")) return <ProfileRow info={info} at={at} />;
  if (info.kind === "choice") return <ChoiceRow info={info} at={at} />;
  if (info.kind === "switch") return <SwitchRow info={info} at={at} />;
  return null;
}

function Group({ title, lit, children }: { title: string; lit: boolean; children: ReactNode }) {
  const section = useRef<HTMLElement>(null);
  useEffect(() => {
    if (lit) section.current?.scrollIntoView({ block: "nearest", behavior: "smooth" });
  }, [lit]);
  const plain = title === "" || title === "position" || title === "rotation" || title === "aim";
  return (
    <section ref={section} className={`group${lit ? " lit" : ""}`} aria-label={title || undefined}>
      {!plain && <h3>{title}</h3>}
      {children}
    </section>
  );
}
