import { Tooltip } from "@mui/material";
import { useVocabulary } from "../../api/queries";
import { toHex } from "../../parts/colour/convert";
import { useSession } from "../document/context";
import { removeKeysBelow } from "../document/values";

/** Finishes to start from; a chip hints at colour and gloss. */
export function Finishes({ at }: { at: string }) {
  const session = useSession();
  const finishes = Object.entries(useVocabulary()?.finishes ?? {});
  return (
    <div className="finishes" role="group" aria-label="Finishes to start from">
      {finishes.map(([name, finish]) => {
        const hex = toHex({ r: finish.base_colour?.r ?? 0, g: finish.base_colour?.g ?? 0, b: finish.base_colour?.b ?? 0 });
        const gloss = 1 - (finish.roughness ?? 0.5);
        return (
          <Tooltip key={name} title={`${name}: ${finish.metallic ? "metal" : "no metal"}, roughness ${finish.roughness}`}>
            <button
              aria-label={name}
              onClick={() => {
                const shot = session.store.getState().shot;
                if (shot) session.edit([...removeKeysBelow(shot, `${at}/`), { op: "replace", path: at, value: finish }]);
              }}
            >
              <i
                style={{
                  background: `radial-gradient(circle at 34% 28%, rgb(255 255 255 / ${gloss * 0.9}) 0, transparent ${18 + 40 * (1 - gloss)}%), radial-gradient(circle at 50% 45%, ${hex} 30%, #000 ${finish.metallic ? 105 : 150}%)`,
                }}
              />
              {name}
            </button>
          </Tooltip>
        );
      })}
    </div>
  );
}
