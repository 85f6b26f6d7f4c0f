import { Tooltip } from "@mui/material";
import type { ValueInfo } from "../../api/queries";
import { useAt, useSession } from "../document/context";
import { isBodied, useListed } from "../things";

/** One of the things of the shot, or none. */
export function ThingRow({ info, at }: { info: ValueInfo; at: string }) {
  const session = useSession();
  const value = String(useAt(at) ?? "");
  const things = useListed().filter((thing) => isBodied(thing.kind));
  return (
    <Tooltip title={info.tells} placement="left">
      <label className="row">
        <span className="number-label">{info.label}</span>
        <select
          className="plain-input choice-list"
          aria-label={info.label}
          value={value}
          onChange={(e) => session.edit([{ op: "replace", path: at, value: e.target.value }])}
        >
          <option value="">its own aim</option>
          {things.map((thing) => (
            <option key={thing.key} value={thing.key}>
              {thing.name}
            </option>
          ))}
        </select>
      </label>
    </Tooltip>
  );
}
