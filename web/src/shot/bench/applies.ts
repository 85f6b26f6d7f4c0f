import type { ValueInfo } from "../../api/queries";
import { valueAt } from "../document/pointer";

/** Whether a value means anything as things stand: `/path/kind=arc,drawn`, `/wire/edges!=none`. */
export function applies(shot: unknown, base: string, { needs = [] }: ValueInfo): boolean {
  return needs.every((one) => {
    const [, pointer = "", not = "", wanted = ""] = /^(.*?)(!?)=(.*)$/.exec(one) ?? [];
    return wanted.split(",").includes(String(valueAt(shot, base + pointer))) !== (not === "!");
  });
}
