import { Tooltip } from "@mui/material";
import type { ValueInfo } from "../../api/queries";
import { useAt, useSession } from "../document/context";

/** One of the patches of the plate, or none. */
export function PatchRow({ info, at }: { info: ValueInfo; at: string }) {
  const session = useSession();
  const value = String(useAt(at) ?? "");
  const patches = (useAt("/plate/patches") ?? []) as { name: string }[];
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
          <option value="">nothing</option>
          {patches.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
    </Tooltip>
  );
}
