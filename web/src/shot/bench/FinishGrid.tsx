import { Tooltip } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Chip, describe } from "./Finishes";

type Finish = Schemas["Finish"];

/** What a finish is, by what light does with it. */
export function kindOf(finish: Finish): string {
  if (finish.emission) return "glowing";
  if (finish.transmission) return "clear";
  if ((finish.metallic ?? 0) > 0.5) return "metal";
  if (finish.clearcoat) return "lacquer";
  return "matt";
}

const KINDS = ["all", "metal", "lacquer", "matt", "clear", "glowing"];

interface Props {
  finishes: [string, Finish][];
  present: string | undefined;
  own: (name: string) => boolean;
  onWear: (finish: Finish) => void;
}

/** Finishes to choose from, found by a part of their name or by what they are. */
export function FinishGrid({ finishes, present, own, onWear }: Props) {
  const [part, setPart] = useState("");
  const [kind, setKind] = useState("all");
  const wanted = part.trim().toLowerCase();
  const found = finishes.filter(
    ([name, finish]) =>
      (kind === "all" || kindOf(finish) === kind) && (!wanted || name.toLowerCase().includes(wanted)),
  );
  return (
    <>
      <div className="finish-find">
        <input
          className="plain-input"
          type="search"
          aria-label="Find a finish"
          placeholder="find …"
          value={part}
          onChange={(e) => setPart(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter" && found[0]) onWear(found[0][1]);
          }}
        />
        <div className="segments" role="radiogroup" aria-label="kind of finish">
          {KINDS.map((one) => (
            <button key={one} role="radio" aria-checked={one === kind} onClick={() => setKind(one)}>
              {one}
            </button>
          ))}
        </div>
      </div>
      <div className="finishes" role="group" aria-label="Finishes">
        {found.map(([name, finish]) => (
          <Tooltip key={name} title={describe(finish)}>
            <button aria-label={name} aria-pressed={present === name} onClick={() => onWear(finish)}>
              <span className="finish-chip">
                <Chip name={name} finish={finish} own={own(name)} />
              </span>
              {name}
            </button>
          </Tooltip>
        ))}
        {found.length === 0 && <p className="hint">None is called so.</p>}
      </div>
    </>
  );
}
