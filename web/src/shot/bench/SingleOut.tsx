import { Button } from "@mui/material";
import { useVocabulary } from "../../api/queries";
import { useAt, useSession, useShotState } from "../document/context";
import { escaped, valueAt } from "../document/pointer";
import { removeKeysBelow } from "../document/values";
import { look, useView, type Single } from "../view";
import { Groups } from "./Groups";

const KINDS: Single[] = ["title", "line", "word", "letter"];

/** What the letter, word or line pointed at does by itself. */
export function SingleOut({ at }: { at: string }) {
  const session = useSession();
  const vocabulary = useVocabulary();
  const single = useView((s) => s.single);
  const pointed = useView((s) => s.pointed);
  const source = typeof pointed === "object" ? pointed.source : undefined;
  const words = String(useAt(`${at}/words`) ?? "");
  const name = single === "title" || source === undefined ? null : poseName(words, single, source);
  const address = name ? `${at}/setting/poses/${escaped(name)}` : null;
  const posed = useShotState((s) => address !== null && valueAt(s.shot, address) !== undefined);
  const infos = vocabulary?.values.pose ?? [];
  return (
    <div className="single">
      <div className="row">
        <span className="number-label">move by itself</span>
        <div className="segments" role="radiogroup" aria-label="What moves by itself">
          {KINDS.map((kind) => (
            <button
              key={kind}
              role="radio"
              aria-checked={single === kind}
              onClick={() => look({ single: kind })}
            >
              {kind}
            </button>
          ))}
        </div>
      </div>
      {single !== "title" && source === undefined && <p className="hint">Click a letter in the picture.</p>}
      {address && !posed && (
        <Button
          size="small"
          variant="outlined"
          onClick={() =>
            session.edit([{ op: "add", path: address, value: structuredClone(vocabulary?.fresh.pose) }])
          }
        >
          Move {describe(words, single, source!)} by itself
        </Button>
      )}
      {address && posed && (
        <>
          <div className="item-head">
            <span>{describe(words, single, source!)}</span>
            <Button
              size="small"
              onClick={() =>
                session.edit([
                  ...removeKeysBelow(session.store.getState().shot!, `${address}/`),
                  { op: "remove", path: address },
                ])
              }
            >
              Put back
            </Button>
          </div>
          <Groups infos={infos} base={address} />
        </>
      )}
    </div>
  );
}

/** Name of the pose of what a character belongs to. */
export function poseName(words: string, single: Exclude<Single, "title">, source: number): string {
  if (single === "letter") return `letter-${source}`;
  const before = [...words].slice(0, source + 1).join("");
  if (single === "line") return `line-${before.split("\n").length - 1}`;
  return `word-${Math.max(0, (before.match(/\S+/g) ?? []).length - 1)}`;
}

function describe(words: string, single: Single, source: number): string {
  const letters = [...words];
  if (single === "letter") return `“${letters[source] ?? ""}”`;
  if (single === "line")
    return `“${
      words.split("\n")[
        letters
          .slice(0, source + 1)
          .join("")
          .split("\n").length - 1
      ] ?? ""
    }”`;
  return `“${
    (words.match(/\S+/g) ?? [])[
      (
        letters
          .slice(0, source + 1)
          .join("")
          .match(/\S+/g) ?? []
      ).length - 1
    ] ?? ""
  }”`;
}
