import { Button } from "@mui/material";
import { useRef, useState } from "react";
import { useVocabulary } from "../../api/queries";
import { useSession, useShotState } from "../document/context";
import { valueAt } from "../document/pointer";
import { insertItem } from "../document/values";

/** The words of a title; characters selected here can be set differently from the others. */
export function Words({ at, words }: { at: string; words: string }) {
  const session = useSession();
  const vocabulary = useVocabulary();
  const [gesture] = useState(() => crypto.randomUUID());
  const field = useRef<HTMLTextAreaElement>(null);
  const [selected, setSelected] = useState<[number, number]>([0, 0]);
  const full = useShotState(
    (s) => ((valueAt(s.shot, `${at}/ranges`) as unknown[] | undefined)?.length ?? 0) >= 24,
  );
  // The core counts whole characters, the field counts UTF-16 units.
  const count = (units: number) => [...words.slice(0, units)].length;
  return (
    <>
      <textarea
        ref={field}
        className="plain-input words"
        aria-label="Words of the title"
        value={words}
        rows={Math.min(5, words.split("\n").length + 1)}
        maxLength={600}
        placeholder="Type the words"
        onChange={(e) =>
          session.edit([{ op: "replace", path: `${at}/words`, value: e.target.value }], gesture)
        }
        onKeyDown={(e) => e.key === "Escape" && e.currentTarget.blur()}
        onSelect={(e) => setSelected([e.currentTarget.selectionStart, e.currentTarget.selectionEnd])}
      />
      {selected[0] < selected[1] && selected[1] <= words.length && (
        <Button
          size="small"
          variant="outlined"
          disabled={full}
          onClick={() => {
            session.edit(
              insertItem(`${at}/ranges`, {
                ...structuredClone(vocabulary?.fresh.range),
                start: count(selected[0]),
                end: count(selected[1]),
                size: 1.25,
              }),
            );
            setSelected([0, 0]);
          }}
        >
          Set “{words.slice(...selected).slice(0, 16)}” differently
        </Button>
      )}
    </>
  );
}
