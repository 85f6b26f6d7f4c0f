import { IconButton, Tooltip } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { Clock } from "../../parts/Clock";
import { useFormat } from "../document/context";
import { look, useView } from "../view";
import { Eases } from "./Eases";

/** Play, step, and what the chosen keys are like. */
export function Transport() {
  const { frames } = useFormat();
  const playing = useView((s) => s.playing);
  const loop = useView((s) => s.loop);
  const toAndFro = useView((s) => s.toAndFro);
  const pace = useView((s) => s.pace);
  const recording = useView((s) => s.recording);
  const last = frames - 1;
  const step = (by: number) =>
    look({ frame: Math.max(0, Math.min(last, useView.getState().frame + by)), playing: false });
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
      <Tooltip title={!loop ? "Play once" : toAndFro ? "Play to and fro" : "Play again and again"}>
        <IconButton
          aria-label="Loop"
          aria-pressed={loop}
          color={loop ? "primary" : "default"}
          onClick={() =>
            look(!loop ? { loop: true, toAndFro: false } : toAndFro ? { loop: false } : { toAndFro: true })
          }
        >
          <Icon name={loop && toAndFro ? "toAndFro" : "loop"} size={16} />
        </IconButton>
      </Tooltip>
      <Tooltip title="Record: every change sets a key at the present frame (R)">
        <IconButton
          aria-label="Record"
          aria-pressed={recording}
          className={recording ? "recording-on" : ""}
          onClick={() => look({ recording: !recording })}
        >
          <Icon name="key" size={16} />
        </IconButton>
      </Tooltip>
      <Tooltip title="How fast it plays">
        <select
          className="plain-input pace"
          aria-label="Pace"
          value={pace}
          onChange={(e) => look({ pace: Number(e.target.value) })}
        >
          {[0.25, 0.5, 1, 2].map((one) => (
            <option key={one} value={one}>
              {one}×
            </option>
          ))}
        </select>
      </Tooltip>
      <ShotClock />
      <span className="grow" />
      <Eases />
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

function ShotClock() {
  const { rate, frames } = useFormat();
  const frame = useView((s) => s.frame);
  return (
    <Clock frame={frame} frames={frames} rate={rate} onGo={(to) => look({ frame: to, playing: false })} />
  );
}
