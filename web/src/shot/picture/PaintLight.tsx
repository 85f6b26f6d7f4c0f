import { useEffect, useState } from "react";
import { create } from "zustand";
import { api, got, type Schemas } from "../../api/client";
import { sayFault } from "../../parts/notices";
import { useSession } from "../document/context";
import { setValue } from "../document/values";
import { useView } from "../view";

type Card = Schemas["AnswerCard"];
type Painted = Schemas["Painted"];

interface Spot {
  x: number;
  y: number;
  frame: number;
  light: Card["light"];
  shares: Record<string, [number, number, number]>;
  stops: number;
  warmth: number;
}

/** Stops by which a light changes at most. */
const LIMIT = 3;

const usePainting = create<{ spots: Spot[]; keep: string[] }>(() => ({ spots: [], keep: [] }));

const near = (a: { x: number; y: number; frame: number }, b: { x: number; y: number; frame: number }) =>
  a.frame === b.frame && Math.hypot(a.x - b.x, a.y - b.y) < 0.004;

/**
 * Spots that are to be brighter, darker or warmer; lights that make them so are told before they are
 * changed.
 */
export function PaintLight({ card, at }: { card: Card; at: { x: number; y: number } }) {
  const session = useSession();
  const frame = useView((s) => s.frame);
  const { spots, keep } = usePainting();
  const [found, setFound] = useState<Painted | null>(null);
  const here = { ...at, frame };
  const now = spots.find((spot) => near(spot, here));

  useEffect(() => {
    setFound(null);
    const wished = spots.filter((spot) => spot.frame === frame);
    if (!wished.some((spot) => spot.stops || spot.warmth)) return;
    let wanted = true;
    void got(
      api.POST("/api/shots/{shot}/paint", {
        params: { path: { shot: session.id } },
        body: {
          frame,
          limit: LIMIT,
          tints: wished.some((spot) => spot.warmth !== 0),
          keep,
          spots: wished.map(({ light, shares, stops, warmth }) => ({ light, shares, stops, warmth })),
        },
      }),
    )
      .then((made) => wanted && setFound(made))
      .catch((why: unknown) => wanted && sayFault(why));
    return () => {
      wanted = false;
    };
  }, [session, spots, keep, frame]);

  function wish(stops: number, warmth: number) {
    const shares = Object.fromEntries(card.contributions.map((one) => [one.name, one.light]));
    const spot = now ?? { ...here, light: card.light, shares, stops: 0, warmth: 0 };
    const next = {
      ...spot,
      stops: Math.max(-6, Math.min(6, spot.stops + stops)),
      warmth: Number(Math.max(-1, Math.min(1, spot.warmth + warmth)).toFixed(2)),
    };
    usePainting.setState({ spots: [...spots.filter((one) => one !== now), next] });
  }
  const forget = () => usePainting.setState({ spots: [], keep: [] });
  function make() {
    if (!found) return;
    const shot = session.store.getState().shot!;
    session.edit(
      found.changes.flatMap(({ values, choices }) => [
        ...Object.entries(choices).map(([path, value]) => ({ op: "replace" as const, path, value })),
        ...Object.entries(values).flatMap(([pointer, value]) => setValue(shot, pointer, value, frame)),
      ]),
    );
    forget();
  }
  const spotsHere = spots.filter((spot) => spot.frame === frame);
  return (
    <div className="paint" role="group" aria-label="Paint with light">
      <span className="paint-buttons">
        {(
          [
            ["darker", -0.5, 0],
            ["brighter", 0.5, 0],
            ["cooler", 0, -0.25],
            ["warmer", 0, 0.25],
          ] as const
        ).map(([label, stops, warmth]) => (
          <button
            key={label}
            title={`This spot is to be ${label}; other spots can be added before lights are changed`}
            onClick={() => wish(stops, warmth)}
          >
            {label}
          </button>
        ))}
      </span>
      {now && (now.stops !== 0 || now.warmth !== 0) && (
        <p>
          This spot: {told(now.stops)}
          {now.warmth !== 0 && `, ${now.warmth > 0 ? "warmer" : "cooler"} by ${Math.abs(now.warmth) * 100} %`}
          {spotsHere.length > 1 && ` (${spotsHere.length} spots in all)`}
        </p>
      )}
      {found && (
        <>
          {found.changes.length === 0 && <p>No light can do that within {LIMIT} stops.</p>}
          <ul>
            {found.changes.map((one) => (
              <li key={one.light}>
                <span>{one.label}</span>
                <span className="mono">
                  {told(one.stops)}
                  {one.tinted ? ", tinted" : ""}
                </span>
                <button
                  title={`${one.label} is to stay as it is`}
                  onClick={() => usePainting.setState({ keep: [...keep, one.light] })}
                >
                  keep it
                </button>
              </li>
            ))}
          </ul>
          <p className="muted">
            {spotsHere.length > 1 ? "These spots become" : "It becomes"}{" "}
            {found.reached.map((stops) => told(stops)).join("; ")}.
          </p>
          <span className="paint-buttons">
            {found.changes.length > 0 && (
              <button className="strong" onClick={make}>
                Change the lights
              </button>
            )}
            <button onClick={forget}>Forget it</button>
          </span>
        </>
      )}
    </div>
  );
}

const told = (stops: number) =>
  `${stops >= 0 ? "+" : "−"}${Math.abs(stops).toFixed(1)} ${Math.abs(stops) === 1 ? "stop" : "stops"}`;
