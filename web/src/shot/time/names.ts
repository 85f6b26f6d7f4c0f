import type { ValueInfo } from "../../api/queries";
import { split } from "../document/pointer";

/** What a keyed value is called: its group and label, from the vocabulary. */
export function valueName(
  pointer: string,
  values: Record<string, ValueInfo[]>,
  kind: string,
): { name: string; info?: ValueInfo } {
  const tokens = split(pointer);
  const below = `/${tokens.slice(tokens[0] === "things" ? 2 : 1).join("/")}`;
  // Values of one of several parts are named with it: set 1 move y.
  const part = /^\/(set|range|shell|deformation)s\/(\d+)(\/.*)$/.exec(below);
  if (part) {
    const inner = valueName(`/part${part[3]}`, { part: values[part[1]!] ?? [] }, "part");
    return { ...inner, name: `${part[1]} ${Number(part[2]) + 1} ${inner.name}` };
  }
  const infos = values[kind] ?? [];
  const info = infos.find((candidate) => candidate.pointer === below);
  if (info) {
    const group = info.group.split("/").at(-1)!;
    return {
      name:
        group && !["setting", "body", "finish", "place"].includes(group)
          ? `${group} ${info.label}`
          : info.label,
      info,
    };
  }
  const colour = infos.find(
    (candidate) => candidate.kind === "colour" && below.startsWith(`${candidate.pointer}/`),
  );
  if (colour) return { name: `${colour.label} ${{ r: "red", g: "green", b: "blue" }[tokens.at(-1)!] ?? ""}` };
  return { name: tokens.at(-1)! };
}
