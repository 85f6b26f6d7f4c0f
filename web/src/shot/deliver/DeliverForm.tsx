import { Button, MenuItem, Popover, Select } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { api, got, type Schemas } from "../../api/client";
import { useFormats, useVocabulary } from "../../api/queries";
import { say, sayFault } from "../../parts/notices";
import { lasting } from "../../parts/when";
import { Cost } from "../../parts/order/Cost";
import { even, QualityRow, RangeRows, SizeRow, type Quality } from "../../parts/order/OrderParts";
import { useSession, useShot } from "../document/context";
import { Proof } from "./Proof";

/** What a format holds, in a sentence. */
function about({ movie, bits, alpha, sound }: Schemas["FormatInfo"]): string {
  const holds = alpha === "none" ? "Rec.709" : `${alpha} alpha`;
  const what = movie ? (sound ? "with the sound" : "no sound") : "numbered frames in a ZIP";
  return `${bits} bit, ${holds}, ${what}.`;
}

/** A render order: range, size, quality. */
export function DeliverForm({ anchor, onClose }: { anchor: HTMLElement | null; onClose: () => void }) {
  return (
    <Popover
      open={anchor !== null}
      anchorEl={anchor}
      onClose={onClose}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
      transformOrigin={{ vertical: "top", horizontal: "right" }}
      transitionDuration={0}
    >
      {anchor && <Form onClose={onClose} />}
    </Popover>
  );
}

function Form({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const shot = useShot();
  const vocabulary = useVocabulary();
  const client = useQueryClient();
  const [, go] = useLocation();
  const { width, height, frames, rate } = shot.format as {
    width: number;
    height: number;
    frames: number;
    rate: { num: number; den: number };
  };
  const [first, setFirst] = useState(0);
  const [last, setLast] = useState(frames - 1);
  const [share, setShare] = useState(1);
  const [quality, setQuality] = useState<Quality>("good");
  const [format, setFormat] = useState("mp4");
  const formats = useFormats();
  const chosen = formats.find((one) => one.name === format);
  const [busy, setBusy] = useState(false);
  const size = { width: even(width * share), height: even(height * share) };
  const count = last - first + 1;

  function order() {
    setBusy(true);
    session
      .settled()
      .then(() =>
        got(
          api.POST("/api/shots/{shot}/deliveries", {
            params: { path: { shot: session.id } },
            body: { first, last, ...size, quality, format },
          }),
        ),
      )
      .then(() => {
        void client.invalidateQueries({ queryKey: ["deliveries"] });
        onClose();
        say("The delivery is ordered; it renders while you go on.", {
          label: "Deliveries",
          run: () => go("/deliveries"),
        });
      })
      .catch(sayFault)
      .finally(() => setBusy(false));
  }

  return (
    <form
      className="deliver-form"
      aria-label="Order a delivery"
      onSubmit={(e) => {
        e.preventDefault();
        order();
      }}
    >
      <h2>Deliver the shot</h2>
      <div className="row">
        <span className="number-label">format</span>
        <Select
          size="small"
          variant="standard"
          disableUnderline
          className="deliver-select wide"
          inputProps={{ "aria-label": "format" }}
          value={format}
          renderValue={() => chosen?.label ?? format}
          onChange={(e) => setFormat(e.target.value)}
        >
          {formats.map((one) => (
            <MenuItem key={one.name} value={one.name} className="deliver-format">
              <span>{one.label}</span>
              <span className="muted">{one.tells}</span>
            </MenuItem>
          ))}
        </Select>
      </div>
      <RangeRows
        {...{ first, last, frames }}
        onChange={(from, to) => {
          setFirst(from);
          setLast(to);
        }}
      />
      <SizeRow share={share} onChange={setShare} told={(s) => `${even(width * s)} × ${even(height * s)}`} />
      <QualityRow
        quality={quality}
        onChange={setQuality}
        samples={Object.fromEntries(vocabulary?.qualities.map((q) => [q.name, q.samples]) ?? [])}
      />
      <Proof first={first} last={last} onGo={onClose} />
      <p className="muted">
        {count} frames, {lasting((count * rate.den) / rate.num)}. {chosen && about(chosen)} It renders in the
        background while you go on.
      </p>
      <Cost of={session.id} quality={quality} frames={count} pixels={[size.width * size.height]} />
      <Button type="submit" variant="contained" size="medium" fullWidth disabled={busy}>
        Order
      </Button>
    </form>
  );
}
