import { useEffect, useRef, useState, type RefObject } from "react";
import { useSession, useShot, useShotState } from "../document/context";
import { escaped } from "../document/pointer";
import { look } from "../view";
import type { LiveStage } from "./live/stage";

/** Words typed where they stand; the body follows while one types. */
export function WordsInPlace({ title, stage }: { title: string; stage: RefObject<LiveStage | null> }) {
  const session = useSession();
  const shot = useShot();
  const scene = useShotState((s) => s.scene);
  const [id] = useState(() => crypto.randomUUID());
  const field = useRef<HTMLTextAreaElement>(null);
  const [place, setPlace] = useState({ left: "50%", top: "80%" });
  const thing = shot.things?.[title];
  const words = thing?.kind === "title" ? (thing.words ?? "") : "";

  useEffect(() => field.current?.select(), []);
  useEffect(() => {
    const extent = stage.current?.seen.extent(title);
    if (extent)
      setPlace({
        left: `${Math.min(80, Math.max(20, (extent[0] + extent[2]) * 50))}%`,
        top: `${Math.min(86, extent[3] * 100 + 3)}%`,
      });
  }, [scene, stage, title]);

  return (
    <textarea
      ref={field}
      className="words-in-place"
      aria-label="Words"
      style={place}
      value={words}
      maxLength={600}
      rows={words.split("\n").length}
      cols={Math.max(12, ...words.split("\n").map((line) => line.length + 2))}
      onChange={(e) =>
        session.edit([{ op: "replace", path: `/things/${escaped(title)}/words`, value: e.target.value }], id)
      }
      onBlur={() => look({ typing: null })}
      onKeyDown={(e) => {
        if (e.key === "Escape" || (e.key === "Enter" && (e.ctrlKey || e.metaKey))) {
          e.preventDefault();
          look({ typing: null });
        }
        e.stopPropagation();
      }}
      onPointerDown={(e) => e.stopPropagation()}
    />
  );
}
