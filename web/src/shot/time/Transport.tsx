import { IconButton, Tooltip } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { timecode } from "../../parts/when";
import { useChannels, useFormat } from "../document/context";
import { SMOOTH, type Ease } from "../document/values";
import { look, useView } from "../view";
import { useKeyCommands } from "./useKeyCommands";

const EASES: { name: string; tells: string; ease: Ease }[] = [
  {
    name: "linear",
    tells: "Even pace to the next key",
    ease: { kind: "linear", x1: 0, y1: 0, x2: 1, y2: 1 },
  },
  { name: "smooth", tells: "Starts and ends softly: cubic-bezier(0.42, 0, 0.58, 1)", ease: SMOOTH },
  {
    name: "soft landing",
    tells: "Arrives slowly: cubic-bezier(0.2, 0.7, 0.1, 1)",
    ease: { kind: "cubic-bezier", x1: 0.2, y1: 0.7, x2: 0.1, y2: 1 },
  },
  {
    name: "slow start",
    tells: "Leaves slowly: cubic-bezier(0.7, 0, 0.9, 0.4)",
    ease: { kind: "cubic-bezier", x1: 0.7, y1: 0, x2: 0.9, y2: 0.4 },
  },
  {
    name: "past and back",
    tells: "Goes too far and returns: cubic-bezier(0.3, 1.4, 0.5, 1)",
    ease: { kind: "cubic-bezier", x1: 0.3, y1: 1.4, x2: 0.5, y2: 1 },
  },
  { name: "hold", tells: "Stays until the next key", ease: { kind: "hold", x1: 0, y1: 0, x2: 1, y2: 1 } },
];

const sameEase = (a: Ease, b: Ease) =>
  a.kind === b.kind &&
  (a.kind !== "cubic-bezier" || (a.x1 === b.x1 && a.y1 === b.y1 && a.x2 === b.x2 && a.y2 === b.y2));

/** Play, step, and what the chosen keys do. */
export function Transport() {
  const { frames } = useFormat();
  const channels = useChannels();
  const playing = useView((s) => s.playing);
  const loop = useView((s) => s.loop);
  const chosen = useView((s) => s.chosen);
  const { setEase, remove } = useKeyCommands();
  const last = frames - 1;
  const step = (by: number) =>
    look({ frame: Math.max(0, Math.min(last, useView.getState().frame + by)), playing: false });
  const present =
    chosen[0] && channels[chosen[0].pointer]?.keys.find((key) => key.frame === chosen[0]!.frame)?.ease;
  return (
    <div className="transport">
      <Button label="First frame (Home)" icon="first" run={() => look({ frame: 0 })} />
      <Button label="One frame back (←)" icon="earlier" run={() => step(-1)} />
      <Button
        label={playing ? "Pause (Space)" : "Play (Space)"}
        icon={playing ? "pause" : "play"}
        run={() => look({ playing: !playing })}
      />
      <Button label="One frame on (→)" icon="later" run={() => step(1)} />
      <Button label="Last frame (End)" icon="last" run={() => look({ frame: last })} />
      <Tooltip title="Loop">
        <IconButton
          aria-label="Loop"
          aria-pressed={loop}
          color={loop ? "primary" : "default"}
          onClick={() => look({ loop: !loop })}
        >
          <Icon name="loop" size={16} />
        </IconButton>
      </Tooltip>
      <Clock />
      <span className="grow" />
      {chosen.length > 0 && (
        <div className="eases" role="group" aria-label="Ease of the chosen keys">
          <span className="muted">{chosen.length === 1 ? "ease" : `ease of ${chosen.length} keys`}</span>
          {EASES.map(({ name, tells, ease }) => (
            <Tooltip key={name} title={tells}>
              <button
                aria-pressed={present !== undefined && sameEase(present, ease)}
                onClick={() => setEase(ease)}
              >
                {name}
              </button>
            </Tooltip>
          ))}
          <Tooltip title="Remove the chosen keys (Delete)">
            <IconButton aria-label="Remove the chosen keys" onClick={remove}>
              <Icon name="trash" size={15} />
            </IconButton>
          </Tooltip>
        </div>
      )}
    </div>
  );
}

function Button({
  label,
  icon,
  run,
}: {
  label: string;
  icon: "first" | "earlier" | "play" | "pause" | "later" | "last";
  run: () => void;
}) {
  return (
    <Tooltip title={label}>
      <IconButton aria-label={label.replace(/ \(.*/, "")} onClick={run}>
        <Icon name={icon} size={16} />
      </IconButton>
    </Tooltip>
  );
}

function Clock() {
  const { rate, frames } = useFormat();
  const frame = useView((s) => s.frame);
  return (
    <span className="clock mono" aria-label="Present moment">
      {timecode(frame, rate)}
      <span className="muted">
        {" "}
        frame {frame} of {frames}
      </span>
    </span>
  );
}
