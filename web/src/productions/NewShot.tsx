import { Button, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useLocation } from "wouter";
import { api, got } from "../api/client";
import { useVocabulary } from "../api/queries";
import { sayFault } from "../parts/notices";
import { Starts } from "./Starts";

export const rateName = (rate: { num: number; den: number }): string =>
  rate.den === 1 ? `${rate.num}` : (rate.num / rate.den).toFixed(3).replace(/0+$/, "");

/** A new shot: its words, its format, how long it lasts. */
export function NewShot({ production, onClose }: { production: string; onClose: () => void }) {
  const vocabulary = useVocabulary();
  const [words, setWords] = useState("");
  const [format, setFormat] = useState(0);
  const [rate, setRate] = useState(2);
  const [seconds, setSeconds] = useState("5");
  const [start, setStart] = useState("plain");
  const [, go] = useLocation();
  if (!vocabulary) return null;
  const fps = vocabulary.rates[rate]!;
  const length = Number(seconds);
  const frames = Math.round((length * fps.num) / fps.den);
  const possible = Number.isFinite(length) && frames >= 1 && frames <= 20000;

  function create() {
    const { width, height } = vocabulary!.formats[format]!;
    const name = words.replace(/\s+/g, " ").trim() || "Untitled shot";
    got(
      api.POST("/api/productions/{production}/shots", {
        params: { path: { production } },
        body: {
          name: name.slice(0, 120),
          words: words || "TITLE",
          start,
          format: { width, height, rate: fps, frames },
        },
      }),
    )
      .then((made) => go(`/shots/${made.id}`, { state: { pointAt: "title" } }))
      .catch(sayFault);
  }

  const { width, height } = vocabulary.formats[format]!;
  return (
    <form
      className="new-shot"
      aria-label="New shot"
      onSubmit={(e) => {
        e.preventDefault();
        if (possible) create();
      }}
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      <TextField
        label="Words"
        autoFocus
        multiline
        maxRows={4}
        value={words}
        onChange={(e) => setWords(e.target.value)}
        placeholder="FIRST LIGHT"
        sx={{ width: 260 }}
        slotProps={{ htmlInput: { maxLength: 600 } }}
      />
      <TextField
        select
        label="Format"
        value={format}
        onChange={(e) => setFormat(Number(e.target.value))}
        sx={{ width: 170 }}
      >
        {vocabulary.formats.map((f, i) => (
          <MenuItem key={f.label} value={i}>
            {f.label} · {f.width} × {f.height}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Frames a second"
        value={rate}
        onChange={(e) => setRate(Number(e.target.value))}
        sx={{ width: 130 }}
      >
        {vocabulary.rates.map((r, i) => (
          <MenuItem key={i} value={i}>
            {rateName(r)}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Seconds"
        value={seconds}
        onChange={(e) => setSeconds(e.target.value)}
        error={!possible}
        helperText={possible ? `${frames} frames` : "1 to 20 000 frames"}
        sx={{ width: 110 }}
      />
      <Button type="submit" variant="contained" size="medium" disabled={!possible}>
        Create shot
      </Button>
      <Button size="medium" color="inherit" onClick={onClose}>
        Cancel
      </Button>
      <Starts {...{ words, width, height }} chosen={start} onChoose={setStart} />
    </form>
  );
}
