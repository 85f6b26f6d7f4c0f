import { Menu, MenuItem } from "@mui/material";
import { useEffect, useMemo, useState } from "react";
import { useVocabulary } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import { useAt, useSession } from "../document/context";

const loaded = new Map<string, Promise<unknown>>();

/** Load a typeface under its own name so that lists can show words in it. */
function loadTypeface(name: string): Promise<unknown> {
  if (!loaded.has(name)) {
    const face = new FontFace(`title ${name}`, `url(/api/typefaces/${name}/font)`);
    document.fonts.add(face);
    loaded.set(name, face.load().catch(() => undefined));
  }
  return loaded.get(name)!;
}

/** The typefaces, each showing this title's own words. */
export function TypefaceRow({ at, words }: { at: string; words: string }) {
  const session = useSession();
  const vocabulary = useVocabulary();
  const chosen = String(useAt(at));
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const faces = useMemo(() => vocabulary?.typefaces ?? [], [vocabulary]);
  const label = faces.find((face) => face.name === chosen)?.label ?? chosen;
  const sample = words.split("\n").find((line) => line.trim()) ?? "Title";

  useEffect(() => {
    void loadTypeface(chosen);
    if (anchor) for (const face of faces) void loadTypeface(face.name);
  }, [anchor, chosen, faces]);

  return (
    <div className="row">
      <span className="number-label">typeface</span>
      <button className="typeface" aria-label={`Typeface: ${label}`} aria-haspopup="listbox" onClick={(e) => setAnchor(e.currentTarget)}>
        <span style={{ fontFamily: `"title ${chosen}"` }}>{label}</span>
        <Icon name="down" size={14} />
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0} slotProps={{ list: { role: "listbox", "aria-label": "Typefaces" } }}>
        {faces.map((face) => (
          <MenuItem
            key={face.name}
            role="option"
            aria-selected={face.name === chosen}
            selected={face.name === chosen}
            onClick={() => {
              setAnchor(null);
              if (face.name !== chosen) session.edit([{ op: "replace", path: at, value: face.name }]);
            }}
          >
            <span className="typeface-choice">
              <span style={{ fontFamily: `"title ${face.name}"` }}>{sample.slice(0, 24)}</span>
              <small>
                {face.label} · {face.kind}
              </small>
            </span>
          </MenuItem>
        ))}
      </Menu>
    </div>
  );
}
