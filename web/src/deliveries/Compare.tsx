import { Button, Slider } from "@mui/material";
import { useEffect, useState } from "react";
import { api, got, type Schemas } from "../api/client";
import type { Delivery } from "../api/queries";
import { NumberField } from "../parts/number/NumberField";
import { sayFault } from "../parts/notices";

const told = (d: Delivery) =>
  [d.name, d.version, `${d.width} × ${d.height}`, d.quality, d.format].filter(Boolean).join(" · ");

/** Two deliveries side by side in one picture: a line to drag, or where they differ. */
export function Compare({ pair: [a, b], onClose }: { pair: [Delivery, Delivery]; onClose: () => void }) {
  const frames = Math.min(a.last - a.first, b.last - b.first) + 1;
  const [number, setNumber] = useState(0);
  const [how, setHow] = useState<"wipe" | "difference">("wipe");
  const [at, setAt] = useState(0.5);
  const [gain, setGain] = useState(8);
  const [facts, setFacts] = useState<Schemas["Compared"] | null>(null);
  useEffect(() => {
    let wanted = true;
    setFacts(null);
    const timer = setTimeout(() => {
      got(
        api.GET("/api/deliveries/{delivery}/compared/{other}", {
          params: { path: { delivery: a.id, other: b.id }, query: { number } },
        }),
      )
        .then((found) => wanted && setFacts(found))
        .catch((why: unknown) => wanted && sayFault(why));
    }, 200);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [a.id, b.id, number]);
  const frame = (d: Delivery) => `/api/deliveries/${d.id}/frames/${number}`;
  return (
    <section className="compare" aria-label="Compare two deliveries">
      <div className="compare-head">
        <div className="switch" role="group" aria-label="How">
          {(["wipe", "difference"] as const).map((one) => (
            <button key={one} aria-pressed={one === how} onClick={() => setHow(one)}>
              {one}
            </button>
          ))}
        </div>
        <NumberField
          label="frame"
          step={1}
          low={0}
          high={frames - 1}
          value={number}
          onChange={(v) => setNumber(Math.round(v))}
          tells="Counted from the first frame of each."
        />
        {how === "difference" && (
          <NumberField
            label="gain"
            unit="×"
            step={0.25}
            low={1}
            high={64}
            value={gain}
            onChange={setGain}
            tells="How much differences are strengthened to be seen."
          />
        )}
        <span className="mono muted" role="status">
          {facts
            ? facts.most === 0
              ? "no difference in this frame"
              : `at most ${facts.most}, ${facts.mean.toFixed(2)} in the mean of 255 codes; ${(100 * facts.share).toFixed(2)} % of the pixels differ by more than one`
            : "comparing …"}
        </span>
        <span className="grow" />
        <Button onClick={onClose}>Close</Button>
      </div>
      <div
        className="compare-picture"
        style={{ aspectRatio: `${a.width} / ${a.height}`, maxWidth: `${(62 * a.width) / a.height}vh` }}
      >
        {how === "difference" ? (
          <img
            src={`/api/deliveries/${a.id}/difference/${b.id}?number=${number}&gain=${gain}`}
            alt="Where they differ"
          />
        ) : (
          <>
            <img src={frame(b)} alt={told(b)} />
            <img src={frame(a)} alt={told(a)} style={{ clipPath: `inset(0 ${100 - at * 100}% 0 0)` }} />
            <i style={{ left: `${at * 100}%` }} />
          </>
        )}
      </div>
      {how === "wipe" && (
        <Slider
          size="small"
          aria-label="Where the line is"
          min={0}
          max={1}
          step={0.002}
          value={at}
          onChange={(_, value) => setAt(value as number)}
        />
      )}
      <p className="muted compare-names">
        <span>{how === "wipe" ? `left: ${told(a)}` : told(a)}</span>
        <span>{how === "wipe" ? `right: ${told(b)}` : told(b)}</span>
      </p>
    </section>
  );
}
