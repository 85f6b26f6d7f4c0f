import { Tooltip } from "@mui/material";
import type { ValueInfo } from "../../api/queries";
import { useTold } from "./useTold";
import { ToldKey } from "./Rows";

/** Made-up rooms as pictures of what is all around in them. */
export function RoomRow({ info, at }: { info: ValueInfo; at: string }) {
  const told = useTold(at);
  const value = String(told.value);
  return (
    <>
      <div className="row">
        <ToldKey label={info.label} told={told} />
        <span className="number-label">{info.label}</span>
        <span className="muted room-name">{value}</span>
      </div>
      <div className="rooms" role="radiogroup" aria-label={info.label}>
        {info.choices!.map((room) => (
          <Tooltip key={room} title={room}>
            <button
              role="radio"
              aria-checked={room === value}
              aria-label={room}
              data-arrows
              onClick={() => room !== value && told.set(room)}
            >
              <img src={`/api/rooms/${encodeURIComponent(room)}/picture`} alt="" loading="lazy" />
            </button>
          </Tooltip>
        ))}
      </div>
    </>
  );
}
