import { listed, type Listed } from "../things";
import { escaped, split } from "./pointer";
import type { ValueInfo } from "../../api/queries";
import type { Shot } from "./patches";
import { MOVERS } from "./values";

// So many places are told apart; more are one large change.
const MOST = 200;

/** Pointers of what differs between two documents; lists are compared whole. */
export function differences(before: unknown, after: unknown, at = "", found: string[] = []): string[] {
  if (found.length >= MOST || Object.is(before, after)) return found;
  if (isTree(before) && isTree(after)) {
    for (const key of new Set([...Object.keys(before), ...Object.keys(after)]))
      differences(before[key], after[key], `${at}/${escaped(key)}`, found);
  } else if (JSON.stringify(before) !== JSON.stringify(after)) found.push(at);
  return found;
}

const isTree = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

type Values = Record<string, ValueInfo[] | undefined>;

/** What is another one between two states of a shot, in words: "depth of EBB". */
export function changed(before: Shot, after: Shot, values: Values): string {
  const things = [...listed(after), ...listed(before)];
  const told = [...new Set(differences(before, after).map((at) => inWords(at, things, values)))];
  if (told.length <= 2) return told.join(" and ");
  return `${told[0]} and ${told.length - 1} more`;
}

function inWords(at: string, things: Listed[], values: Values): string {
  const [part = "", name = "", ...rest] = split(at);
  if (MOVERS.some((one) => one === part)) return `how ${inWords(name, things, values)} moves`;
  const thing = things.find((one) => at === one.at || at.startsWith(`${one.at}/`));
  if (!thing) return part;
  const label = labelOf(values[thing.kind], at.slice(thing.at.length)) ?? rest[0]?.replace(/_/g, " ");
  return label && at !== thing.at ? `${label} of ${thing.name}` : thing.name;
}

/** What the value at a pointer, or the one that it lies in, is called. */
function labelOf(infos: ValueInfo[] | undefined, pointer: string): string | undefined {
  const within = (info: ValueInfo) => pointer === info.pointer || pointer.startsWith(`${info.pointer}/`);
  const found = infos?.filter(within).sort((a, b) => b.pointer.length - a.pointer.length)[0];
  const group = found?.group.split("/").at(-1);
  // "body depth" says no more than "depth" does; "x" says too little.
  return found && (group && found.label.length < 4 ? `${group} ${found.label}` : found.label);
}
