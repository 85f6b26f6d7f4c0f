import { IconButton, Tooltip } from "@mui/material";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import type { Operation } from "../../shot/document/patches";
import { Icon } from "../Icon";
import "./markers.css";

interface Props {
  markers: Schemas["Marker"][];
  onGo: (frame: number) => void;
  onEdit: (patch: Operation[]) => void;
  /** The picture of the frame of a marker, by its number. */
  picture: (index: number) => ReactNode;
}

/** Markers: a press goes there, names and notes are typed; what is noted shows its frame. */
export function MarkerList({ markers, onGo, onEdit, picture }: Props) {
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
        onEdit([{ op: "replace", path: `/markers/${index}/${name}`, value: e.target.value }])
      }
    />
  );
  return (
    <section className="group" aria-label="markers">
      <h3>markers</h3>
      {markers.map(({ frame = 0, name = "", note = "" }, i) => (
        <div key={i} className="marker-row">
          <button className="marker-go mono" onClick={() => onGo(frame)}>
            {frame}
          </button>
          {text(i, "name", name)}
          <Tooltip title="Remove the marker">
            <IconButton
              aria-label={`Remove marker ${i + 1}`}
              onClick={() => onEdit([{ op: "remove", path: `/markers/${i}` }])}
            >
              <Icon name="trash" size={14} />
            </IconButton>
          </Tooltip>
          {text(i, "note", note)}
          {note && (
            <button
              className="marker-picture"
              aria-label={`Go to what is noted: ${note}`}
              onClick={() => onGo(frame)}
            >
              {picture(i)}
            </button>
          )}
        </div>
      ))}
    </section>
  );
}
