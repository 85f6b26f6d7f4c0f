import { useState } from "react";
import { frameTyped, timecode } from "./when";

interface Props {
  frame: number;
  frames: number;
  rate: { num: number; den: number };
  onGo: (frame: number) => void;
}

/** The present moment; pressed, a frame or a timecode can be typed. */
export function Clock({ frame, frames, rate, onGo }: Props) {
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState(false);
  function commit(typed: string) {
    const found = frameTyped(typed, rate, frame);
    setFault(found === null);
    if (found === null) return;
    setText(null);
    onGo(Math.max(0, Math.min(Math.max(0, frames - 1), found)));
  }
  if (text !== null)
    return (
      <span className="clock mono">
        <input
          className={`plain-input mono${fault ? " fault" : ""}`}
          aria-label="Go to frame or timecode"
          aria-invalid={fault}
          title="A frame (48), a timecode (00:00:01:23), seconds (1.5 s), or +12"
          autoFocus
          size={12}
          value={text}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => setText(null)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") commit(text);
            if (e.key === "Escape") setText(null);
          }}
        />
      </span>
    );
  return (
    <button
      className="clock mono"
      aria-label={`Present moment: ${timecode(frame, rate)} frame ${frame} of ${frames}`}
      title="Press to go to a frame or a timecode"
      onClick={() => setText(timecode(frame, rate))}
    >
      {timecode(frame, rate)}
      <span className="muted">
        {" "}
        frame {frame} of {frames}
      </span>
    </button>
  );
}
