import { applyPatch, type Operation as PlainOperation } from "fast-json-patch";
import type { Schemas } from "../../api/client";
import { split } from "./pointer";

export type Shot = Schemas["Shot"];
export type Operation = Schemas["Operation"];

/** An edit on its way to the server. */
export interface Edit {
  patch: Operation[];
  gesture?: string;
}

/**
 * The document after a patch; throws where the patch does not fit. The document itself stays as it
 * is, and whatever the patch does not touch stays the very same object, so that only what changed is
 * shown anew.
 */
export function patched<T>(document: T, patch: Operation[]): T {
  return patch.reduce((tree, operation) => applied(tree, operation) as T, document);
}

type Tree = Record<string, unknown> | unknown[];

function applied(tree: unknown, operation: Operation): unknown {
  if (operation.op !== "add" && operation.op !== "replace" && operation.op !== "remove")
    return applyPatch(tree, [operation as PlainOperation], true, false).newDocument;
  return changed(tree, split(operation.path), operation);
}

function changed(here: unknown, [token, ...rest]: string[], operation: Operation): unknown {
  if (token === undefined) return operation.value;
  if (typeof here !== "object" || here === null) throw new Error(`${operation.path} leads nowhere`);
  const copy = (Array.isArray(here) ? [...here] : { ...here }) as Tree;
  if (rest.length) {
    const below = (here as Record<string, unknown>)[token];
    if (below === undefined) throw new Error(`${operation.path} leads nowhere`);
    (copy as Record<string, unknown>)[token] = changed(below, rest, operation);
  } else if (Array.isArray(copy)) {
    const at = token === "-" ? copy.length : Number(token);
    const last = operation.op === "add" ? copy.length : copy.length - 1;
    if (!(at >= 0 && at <= last)) throw new Error(`${operation.path} is outside the list`);
    if (operation.op === "add") copy.splice(at, 0, operation.value);
    else if (operation.op === "remove") copy.splice(at, 1);
    else copy[at] = operation.value;
  } else {
    if (operation.op !== "add" && !(token in copy)) throw new Error(`${operation.path} leads nowhere`);
    if (operation.op === "remove") delete copy[token];
    else copy[token] = operation.value;
  }
  return copy;
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
