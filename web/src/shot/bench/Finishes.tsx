import { Button, Popover, Tooltip } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useVocabulary } from "../../api/queries";
import { toHex } from "../../parts/colour/convert";
import { Icon } from "../../parts/Icon";
import { Still } from "../../parts/Still";
import { useAt, useSession } from "../document/context";
import { removeKeysBelow } from "../document/values";

type Finish = Schemas["Finish"];

/** The finishes of the library, each as the renderer shows it; a click puts one on. */
export function Finishes({ at, part = false }: { at: string; part?: boolean }) {
  const session = useSession();
  const worn = useAt(at) as Finish | undefined;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const finishes = Object.entries(useVocabulary()?.finishes ?? {});
  const plain = ({ parts, ...surface }: Finish) => JSON.stringify(part ? surface : { ...surface, parts });
  const present = worn && finishes.find(([, finish]) => plain(finish) === plain(worn));
  function wear(finish: Finish) {
    const { shot } = session.store.getState();
    const { parts, ...surface } = finish;
    if (shot) session.edit([...removeKeysBelow(shot, `${at}/`), { op: "replace", path: at, value: part ? surface : { ...surface, parts } }]);
  }
  return (
    <div className="row finish-row">
      {present && (
        <span className="finish-chip small-chip" aria-hidden="true">
          <Chip name={present[0]} finish={present[1]} />
        </span>
      )}
      <Button variant="outlined" size="small" fullWidth aria-haspopup="dialog" endIcon={<Icon name="down" size={13} />} onClick={(e) => setAnchor(e.currentTarget)}>
        {present ? present[0] : "Choose a finish"}
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)} anchorOrigin={{ vertical: "bottom", horizontal: "right" }} transformOrigin={{ vertical: "top", horizontal: "right" }} transitionDuration={0}>
        <div className="finishes" role="group" aria-label="Finishes">
          {finishes.map(([name, finish]) => (
            <Tooltip key={name} title={describe(finish)}>
              <button aria-label={name} aria-pressed={present?.[0] === name} onClick={() => wear(finish)}>
                <span className="finish-chip">
                  <Chip name={name} finish={finish} />
                </span>
                {name}
              </button>
            </Tooltip>
          ))}
        </div>
      </Popover>
    </div>
  );
}

function Chip({ name, finish }: { name: string; finish: Finish }) {
  const { r = 0, g = 0, b = 0 } = finish.base_colour ?? {};
  return <Still address={`/api/finishes/${encodeURIComponent(name)}/chip`} meanwhile={<i style={{ background: toHex({ r, g, b }) }} />} />;
}

function describe(finish: Finish): string {
  const layers = [finish.clearcoat ? "clearcoat" : "", finish.sheen ? "sheen" : "", finish.anisotropy ? "brushed" : ""].filter(Boolean);
  return [finish.metallic ? "metal" : "no metal", `roughness ${finish.roughness}`, ...layers].join(", ");
}
