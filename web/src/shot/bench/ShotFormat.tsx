import { MenuItem, Select } from "@mui/material";
import { useVocabulary } from "../../api/queries";
import { NumberField } from "../../parts/number/NumberField";
import { timecode } from "../../parts/when";
import { rateName } from "../../productions/NewShot";
import { useSession, useShot } from "../document/context";

/** The shot itself: picture size, rate and length. */
export function ShotFormat() {
  const session = useSession();
  const shot = useShot();
  const vocabulary = useVocabulary();
  const { width, height, frames, rate } = shot.format as {
    width: number;
    height: number;
    frames: number;
    rate: { num: number; den: number };
  };
  const put = (name: string, value: number, gesture?: string) =>
    session.edit([{ op: "replace", path: `/format/${name}`, value: Math.round(value) }], gesture);
  const known = vocabulary?.formats.findIndex((f) => f.width === width && f.height === height) ?? -1;
  const rates = vocabulary?.rates ?? [];
  const at = rates.findIndex((r) => r.num === rate.num && r.den === rate.den);
  return (
    <>
      <section className="group" aria-label="format">
        <h3>format</h3>
        <div className="row">
          <span className="number-label">shape</span>
          <Select
            size="small"
            variant="standard"
            disableUnderline
            className="select"
            inputProps={{ "aria-label": "shape" }}
            value={known}
            onChange={(e) => {
              const chosen = vocabulary!.formats[Number(e.target.value)];
              if (chosen)
                session.edit([
                  { op: "replace", path: "/format/width", value: chosen.width },
                  { op: "replace", path: "/format/height", value: chosen.height },
                ]);
            }}
          >
            {known < 0 && <MenuItem value={-1}>own</MenuItem>}
            {vocabulary?.formats.map((f, i) => (
              <MenuItem key={f.label} value={i}>
                {f.label}
              </MenuItem>
            ))}
          </Select>
        </div>
        <div className="row">
          <NumberField
            label="width"
            unit="px"
            step={2}
            low={16}
            high={8192}
            value={width}
            onChange={(v, g) => put("width", v, g)}
            tells="Width of the picture."
          />
        </div>
        <div className="row">
          <NumberField
            label="height"
            unit="px"
            step={2}
            low={16}
            high={8192}
            value={height}
            onChange={(v, g) => put("height", v, g)}
            tells="Height of the picture."
          />
        </div>
        <div className="row">
          <span className="number-label">frames a second</span>
          <Select
            size="small"
            variant="standard"
            disableUnderline
            className="select"
            inputProps={{ "aria-label": "frames a second" }}
            value={at}
            onChange={(e) => {
              const chosen = rates[Number(e.target.value)];
              if (chosen) session.edit([{ op: "replace", path: "/format/rate", value: chosen }]);
            }}
          >
            {at < 0 && <MenuItem value={-1}>{rateName(rate)}</MenuItem>}
            {rates.map((r, i) => (
              <MenuItem key={i} value={i}>
                {rateName(r)}
              </MenuItem>
            ))}
          </Select>
        </div>
        <div className="row">
          <NumberField
            label="length"
            unit="frames"
            step={1}
            low={1}
            high={20000}
            value={frames}
            onChange={(v, g) => put("frames", v, g)}
            tells="How many frames the shot has."
          />
        </div>
        <p className="muted small">
          {timecode(frames, rate)} long. Click a letter, a light in the plot or a row of time to see its
          values here.
        </p>
        <p className="muted small">
          Words as subtitles: <a href={`/api/shots/${session.id}/subtitles/srt`}>SRT</a>,{" "}
          <a href={`/api/shots/${session.id}/subtitles/vtt`}>WebVTT</a>; drop such a file on the picture to
          bring one.
        </p>
      </section>
    </>
  );
}
