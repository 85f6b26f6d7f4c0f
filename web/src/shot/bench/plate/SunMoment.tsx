import { Button } from "@mui/material";
import { useState } from "react";
import { api, got } from "../../../api/client";
import { say } from "../../../parts/notices";
import { NumberField } from "../../../parts/number/NumberField";
import { useSession } from "../../document/context";
import { useView } from "../../view";

const FIELDS = [
  { name: "latitude", unit: "°", low: -90, high: 90, step: 0.05, tells: "North is positive" },
  { name: "longitude", unit: "°", low: -180, high: 180, step: 0.05, tells: "East is positive" },
  { name: "day", label: "day of the year", unit: "", low: 1, high: 366, step: 1, tells: "1 is the first of January" },
  { name: "hour", label: "time (UTC)", unit: "h", low: 0, high: 24, step: 0.02, tells: "Hours after midnight, universal time" },
  { name: "bearing", label: "camera looks", unit: "°", low: -360, high: 360, step: 0.25, tells: "Where it looks in this frame, clockwise from north: 90 is east" },
] as const; // prettier-ignore

type Moment = Record<(typeof FIELDS)[number]["name"], number>;

/** Puts the sun where it was when the plate was filmed. */
export function SunMoment() {
  const session = useSession();
  const [open, setOpen] = useState(false);
  const [moment, setMoment] = useState<Moment>({
    latitude: 58.3,
    longitude: 8.6,
    day: 172,
    hour: 16,
    bearing: 0,
  });
  const put = () =>
    session.offered(async () => {
      const { elevation, azimuth } = await got(
        api.POST("/api/shots/{shot}/plate/sun-at", {
          params: { path: { shot: session.id } },
          body: { ...moment, day: Math.round(moment.day), frame: useView.getState().frame },
        }),
      );
      say(`The sun stands ${elevation.toFixed(1)}° high, ${azimuth.toFixed(0)}° from north`);
    });
  if (!open)
    return (
      <div className="motions">
        <button className="motion" onClick={() => setOpen(true)}>
          sun by place and time
        </button>
      </div>
    );
  return (
    <div className="sun-moment" role="group" aria-label="sun by place and time">
      {FIELDS.map((field) => (
        <div className="row" key={field.name}>
          <NumberField
            label={"label" in field ? field.label : field.name}
            value={moment[field.name]}
            unit={field.unit}
            low={field.low}
            high={field.high}
            step={field.step}
            tells={field.tells}
            onChange={(next) => setMoment({ ...moment, [field.name]: next })}
          />
          <span className="reset-gap" />
        </div>
      ))}
      <Button size="small" variant="outlined" fullWidth onClick={() => void put()}>
        Put the sun there
      </Button>
    </div>
  );
}
