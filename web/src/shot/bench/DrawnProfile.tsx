import { Button, Menu, MenuItem } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type PointerEvent } from "react";
import { api, got } from "../../api/client";
import { sayFault } from "../../parts/notices";
import { useAt, useSession } from "../document/context";

type Pair = [number, number];

const SIDE = 150;
const PAD = 12;

/**
 * A drawn profile: drag its points, double-click to add one, Delete removes it; sections can be saved and
 * used again.
 */
export function DrawnProfile({ at }: { at: string }) {
  const session = useSession();
  const points = (useAt(at) as Pair[] | undefined) ?? [];
  const [chosen, setChosen] = useState<number | null>(null);
  const drag = useRef<{ index: number; id: string } | null>(null);
  const svg = useRef<SVGSVGElement>(null);

  const x = (across: number) => PAD + across * SIDE;
  const y = (up: number) => PAD + (1 - up) * SIDE;
  const put = (next: Pair[], id?: string) => session.edit([{ op: "replace", path: at, value: next }], id);

  function under(event: { clientX: number; clientY: number }): Pair {
    const box = svg.current!.getBoundingClientRect();
    const scale = (SIDE + 2 * PAD) / box.width;
    return [
      ((event.clientX - box.left) * scale - PAD) / SIDE,
      1 - ((event.clientY - box.top) * scale - PAD) / SIDE,
    ];
  }
  /** A point stays between its neighbours: a profile never runs back. */
  function held(index: number, [across, up]: Pair): Pair {
    const [before, after] = [points[index - 1]!, points[index + 1]!];
    const within = (v: number, low: number, high: number) =>
      Number(Math.min(high, Math.max(low, v)).toFixed(3));
    return [within(across, before[0], after[0]), within(up, before[1], after[1])];
  }
  function move(index: number, to: Pair, id?: string) {
    const next = points.map((p, i) => (i === index ? held(index, to) : p));
    if (next.some((p, i) => i > 0 && p[0] === next[i - 1]![0] && p[1] === next[i - 1]![1])) return;
    put(next, id);
  }
  function add(event: React.MouseEvent) {
    if (points.length >= 32) return;
    const to = under(event);
    const place = points.findIndex((p) => p[0] + p[1] > to[0] + to[1]);
    if (place <= 0) return;
    const between = held2(points[place - 1]!, points[place]!, to);
    put([...points.slice(0, place), between, ...points.slice(place)]);
    setChosen(place);
  }
  const inner = (index: number) => index > 0 && index < points.length - 1;
  return (
    <div className="drawn">
      <svg
        ref={svg}
        viewBox={`0 0 ${SIDE + 2 * PAD} ${SIDE + 2 * PAD}`}
        role="group"
        aria-label="Drawn profile: the wall is at the lower left, the face at the upper right"
        onDoubleClick={add}
        onPointerMove={(e: PointerEvent) =>
          drag.current && move(drag.current.index, under(e), drag.current.id)
        }
        onPointerUp={() => (drag.current = null)}
      >
        <rect x={PAD} y={PAD} width={SIDE} height={SIDE} className="drawn-field" />
        <path className="solid" d={`M${points.map((p) => `${x(p[0])} ${y(p[1])}`).join("L")}V${y(0)}Z`} />
        <path d={`M${points.map((p) => `${x(p[0])} ${y(p[1])}`).join("L")}`} className="drawn-line" />
        {points.map((p, i) => (
          <circle
            key={i}
            cx={x(p[0])}
            cy={y(p[1])}
            r={inner(i) ? 5 : 3}
            className={chosen === i ? "chosen" : undefined}
            role={inner(i) ? "button" : undefined}
            tabIndex={inner(i) ? 0 : -1}
            aria-label={inner(i) ? `Point ${i}: ${p[0]} in, ${p[1]} up` : undefined}
            onFocus={() => setChosen(i)}
            onPointerDown={(e) => {
              if (!inner(i)) return;
              e.stopPropagation();
              svg.current!.setPointerCapture(e.pointerId);
              drag.current = { index: i, id: crypto.randomUUID() };
              setChosen(i);
            }}
            onKeyDown={(e) => {
              const step = e.shiftKey ? 0.05 : 0.01;
              const by: Record<string, Pair> = {
                ArrowLeft: [-step, 0],
                ArrowRight: [step, 0],
                ArrowUp: [0, step],
                ArrowDown: [0, -step],
              };
              if (e.key === "Delete" || e.key === "Backspace") put(points.filter((_, k) => k !== i));
              else if (by[e.key]) move(i, [p[0] + by[e.key]![0], p[1] + by[e.key]![1]]);
              else return;
              e.preventDefault();
              e.stopPropagation();
            }}
            data-arrows
          />
        ))}
      </svg>
      <Presets points={points} onChoose={put} />
    </div>
  );
}

function held2(a: Pair, b: Pair, to: Pair): Pair {
  const within = (v: number, low: number, high: number) =>
    Number(Math.min(high - 1e-3, Math.max(low + 1e-3, v)).toFixed(3));
  return [within(to[0], a[0], b[0]), within(to[1], a[1], b[1])];
}

/** Profiles to start from, and those that were saved. */
function Presets({ points, onChoose }: { points: Pair[]; onChoose: (points: Pair[]) => void }) {
  const client = useQueryClient();
  const kept = useQuery({ queryKey: ["profiles"], queryFn: () => got(api.GET("/api/profiles")) }).data ?? [];
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [name, setName] = useState("");
  async function save() {
    try {
      await got(
        api.PUT("/api/profiles/{name}", { params: { path: { name: name.trim() } }, body: { points } }),
      );
      await client.invalidateQueries({ queryKey: ["profiles"] });
      setName("");
    } catch (why) {
      sayFault(why);
    }
  }
  return (
    <div className="drawn-presets">
      <Button
        size="small"
        variant="outlined"
        aria-haspopup="menu"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        Saved profiles
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        {kept.map((profile) => (
          <MenuItem
            key={profile.name}
            onClick={() => {
              setAnchor(null);
              onChoose(profile.points as Pair[]);
            }}
          >
            <svg width="22" height="22" viewBox="-0.1 -1.1 1.2 1.2" className="drawn-chip" aria-hidden="true">
              <path d={`M${profile.points.map((p) => `${p[0]} ${-(p[1] as number)}`).join("L")}V0Z`} />
            </svg>
            {profile.name}
          </MenuItem>
        ))}
      </Menu>
      <input
        className="plain-input"
        placeholder="save as …"
        aria-label="Name to save the profile under"
        value={name}
        maxLength={60}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && name.trim() && void save()}
      />
      <Button size="small" disabled={!name.trim()} onClick={() => void save()}>
        Save
      </Button>
      <p className="hint">Drag points, double-click to add one, Delete removes it.</p>
    </div>
  );
}
