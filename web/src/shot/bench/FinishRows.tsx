import { Button, Tooltip } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useVocabulary, type ValueInfo } from "../../api/queries";
import { useAt, useSession } from "../document/context";
import { valueAt } from "../document/pointer";
import { removeKeysBelow } from "../document/values";
import { useView } from "../view";
import { Finishes } from "./Finishes";
import { ValueRow } from "./Groups";

const PARTS = ["face", "bevel", "wall", "back"] as const;
type Part = (typeof PARTS)[number];

/** A finish: the whole body's, and that of each part that differs. */
export function FinishRows({ infos, at }: { infos: ValueInfo[]; at: string }) {
  const session = useSession();
  const vocabulary = useVocabulary();
  const own = (useAt(`${at}/parts`) ?? {}) as Partial<Record<Part, object>>;
  const pointed = useView((s) => s.pointed);
  const clicked = typeof pointed === "object" ? (pointed.part as Part | undefined) : undefined;
  const [part, setPart] = useState<Part | null>(null);
  // What was clicked in the picture is what is shown, where it differs from the rest.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useEffect(() => setPart(clicked && clicked in own ? clicked : null), [pointed]);
  const place = part ? `${at}/parts/${part}` : at;
  const surfaces = vocabulary?.values.surface ?? [];
  const parts = useRef<HTMLDivElement>(null);
  const begun = useRef(false);
  const differs = part !== null && part in own;
  useEffect(() => {
    // The button that was pressed is gone; one goes on with which finish it is.
    if (differs && begun.current)
      parts.current?.parentElement?.querySelector<HTMLElement>(".finish-row button")?.focus();
    begun.current = false;
  }, [differs]);

  function differ(which: Part) {
    begun.current = true;
    const whole = structuredClone(valueAt(session.store.getState().shot, at)) as Record<string, unknown>;
    delete whole.parts;
    session.edit([{ op: "add", path: `${at}/parts/${which}`, value: whole }]);
  }
  function agree(which: Part) {
    const { shot } = session.store.getState();
    if (shot)
      session.edit([
        ...removeKeysBelow(shot, `${at}/parts/${which}/`),
        { op: "remove", path: `${at}/parts/${which}` },
      ]);
  }

  // A floor is all face, and so is wire.
  const flat = useAt(at.replace(/\/finish$/, "/kind")) === "floor" || at.endsWith("/wire/finish");
  return (
    <>
      {!flat && (
        <div ref={parts} className="segments parts" role="radiogroup" aria-label="Part">
          {[null, ...PARTS].map((one) => (
            <Tooltip
              key={one ?? "whole"}
              title={
                one
                  ? one in own
                    ? `The ${one} has a finish of its own`
                    : `The ${one} wears what the whole wears`
                  : "The finish of the whole body"
              }
            >
              <button role="radio" aria-checked={part === one} onClick={() => setPart(one)}>
                {one ?? "whole"}
                {one && one in own && <i className="part-own" aria-hidden="true" />}
              </button>
            </Tooltip>
          ))}
        </div>
      )}
      {part && !(part in own) ? (
        <>
          <p className="hint">The {part} wears what the whole wears.</p>
          <Button size="small" variant="outlined" fullWidth onClick={() => differ(part)}>
            Give the {part} its own finish
          </Button>
        </>
      ) : (
        <>
          <Finishes at={place} part={part !== null} />
          {(part ? surfaces : infos).map((info) => (
            <ValueRow
              key={info.pointer}
              info={info}
              at={part ? place + info.pointer : at + info.pointer.slice(info.pointer.lastIndexOf("/"))}
            />
          ))}
          {part && (
            <Button size="small" fullWidth onClick={() => agree(part)}>
              Wear what the whole wears
            </Button>
          )}
        </>
      )}
    </>
  );
}
