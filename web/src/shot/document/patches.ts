import { applyPatch, type Operation as PlainOperation } from "fast-json-patch";
import type { Schemas } from "../../api/client";

export type Shot = Schemas["Shot"];
export type Operation = Schemas["Operation"];

/** An edit on its way to the server. */
export interface Edit {
  patch: Operation[];
  gesture?: string;
}

/** The document after a patch; throws where the patch does not fit. The document itself stays as it is. */
export function patched(shot: Shot, patch: Operation[]): Shot {
  return applyPatch(shot, patch as PlainOperation[], true, false).newDocument;
}

/** Join an edit to a waiting one of the same gesture: later values of the same places win. */
export function joined(waiting: Edit, next: Edit): Edit | null {
  const plain = (edit: Edit) => edit.patch.every((o) => o.op === "replace");
  if (!next.gesture || waiting.gesture !== next.gesture || !plain(waiting) || !plain(next)) return null;
  const places = new Map([...waiting.patch, ...next.patch].map((o) => [o.path, o]));
  return { patch: [...places.values()], gesture: next.gesture };
}

/** Put waiting edits on top of a newer document; those that no longer fit are told apart. */
export function rebased(base: Shot, waiting: Edit[]): { shot: Shot; kept: Edit[]; lost: Edit[] } {
  let shot = base;
  const kept: Edit[] = [];
  const lost: Edit[] = [];
  for (const edit of waiting) {
    try {
      shot = patched(shot, edit.patch);
      kept.push(edit);
    } catch {
      lost.push(edit);
    }
  }
  return { shot, kept, lost };
}
