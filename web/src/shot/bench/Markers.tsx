import { IconButton, Tooltip } from "@mui/material";
import type { Schemas } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { useSession, useShotState } from "../document/context";
import { look } from "../view";

const NONE: Schemas["Marker"][] = [];

/** The markers of a shot: a press goes there, names and notes are typed. */
export function Markers() {
  const session = useSession();
  const markers = useShotState((s) => s.shot?.markers ?? NONE);
  if (!markers.length) return null;
  const text = (index: number, name: "name" | "note", value: string) => (
    <input
      key={value}
      className="plain-input"
      placeholder={name}
      aria-label={`${name} of marker ${index + 1}`}
      defaultValue={value}
      maxLength={name === "name" ? 60 : 400}
      onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      onBlur={(e) =>
        e.target.value !== value &&
        session.edit([{ op: "replace", path: `/markers/${index}/${name}`, value: e.target.value }])
      }
    />
  );
  return (
    <section className="group" aria-label="markers">
      <h3>markers</h3>
      {markers.map(({ frame = 0, name = "", note = "" }, i) => (
        <div key={i} className="marker-row">
          <button className="marker-go mono" onClick={() => look({ frame, playing: false })}>
            {frame}
          </button>
          {text(i, "name", name)}
          {text(i, "note", note)}
          <Tooltip title="Remove the marker">
            <IconButton
              aria-label={`Remove marker ${i + 1}`}
              onClick={() => session.edit([{ op: "remove", path: `/markers/${i}` }])}
            >
              <Icon name="trash" size={14} />
            </IconButton>
          </Tooltip>
        </div>
      ))}
    </section>
  );
}
