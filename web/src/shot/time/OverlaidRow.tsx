import { Tooltip } from "@mui/material";
import { useVocabulary } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import type { Listed } from "../things";
import { overlay, useView } from "../view";
import { valueName } from "./names";
import type { Scale } from "./scale";
import { Strand } from "./Strand";
import { StrandEdge } from "./StrandEdge";

const TALL = 150;
/** Degrees of hue from one strand to the next: neighbours never look alike. */
const APART = 137.5;
const hueOf = (place: number) => Math.round((165 + place * APART) % 360);

/** All moving values of a thing in one row, each in its own colour and its own measure. */
export function OverlaidRow({
  thing,
  pointers,
  scale,
  frames,
}: {
  thing: Listed;
  pointers: string[];
  scale: Scale;
  frames: number;
}) {
  const values = useVocabulary()?.values ?? {};
  const of = `over ${thing.key}`;
  const tall = useView((s) => s.strands[of] ?? TALL);
  const names = pointers.map((pointer) => valueName(pointer, values, thing.kind).name);
  return (
    <div
      className="strand-row overlaid"
      role="row"
      aria-label={`All values of ${thing.name}`}
      style={{ height: tall }}
    >
      <div className="time-names" role="cell">
        {names.map((name, place) => (
          <span key={pointers[place]} style={{ color: `hsl(${hueOf(place)} 45% 62%)` }}>
            {name}
          </span>
        ))}
      </div>
      <div role="cell">
        {pointers.map((pointer, place) => (
          <Strand
            key={pointer}
            {...{ pointer, scale, frames, tall, name: names[place]!, hue: hueOf(place) }}
          />
        ))}
        <StrandEdge of={of} name={`all values of ${thing.name}`} tall={tall} />
      </div>
    </div>
  );
}

/** Lays the strands of a thing over one another, or one below the other. */
export function OverlayButton({ thing }: { thing: Listed }) {
  const on = useView((s) => s.overlaid.has(thing.key));
  const says = on ? "Its strands one below the other" : "Its strands over one another, in one row";
  return (
    <Tooltip title={says}>
      <button
        className="lamp"
        aria-pressed={on}
        aria-label={`Strands of ${thing.name} over one another`}
        onClick={() => overlay(thing.key)}
      >
        <Icon name="wave" size={13} />
      </button>
    </Tooltip>
  );
}
