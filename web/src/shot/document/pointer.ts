/** JSON Pointers (RFC 6901). */

export const escaped = (token: string): string => token.replace(/~/g, "~0").replace(/\//g, "~1");

export const split = (pointer: string): string[] =>
  pointer
    .split("/")
    .slice(1)
    .map((token) => token.replace(/~1/g, "/").replace(/~0/g, "~"));

/** The value a pointer leads to; undefined where it leads nowhere. */
export function valueAt(tree: unknown, pointer: string): unknown {
  let here = tree;
  for (const token of split(pointer)) {
    if (typeof here !== "object" || here === null) return undefined;
    here = (here as Record<string, unknown>)[token];
  }
  return here;
}
