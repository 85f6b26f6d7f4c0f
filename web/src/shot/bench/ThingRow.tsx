import { Tooltip } from "@mui/material";
import { api, got } from "../../api/client";
import type { ValueInfo } from "../../api/queries";
import { cameraAsked } from "../document/cameras";
import { useAt, useSession } from "../document/context";
import { hasPlace, isBodied, useListed } from "../things";
import { useView } from "../view";

/** One of the things of the shot, or none. */
export function ThingRow({ info, at }: { info: ValueInfo; at: string }) {
  const session = useSession();
  const value = String(useAt(at) ?? "");
  const own = at.startsWith("/things/")
    ? at.split("/")[2]!
    : at.startsWith("/camera")
      ? cameraAsked(at.split("/").slice(0, -1).join("/"))
      : "";
  const things = useListed().filter(
    ({ kind, key }) =>
      key !== own &&
      (info.thing === "light" || info.thing === "strand"
        ? kind === info.thing
        : info.thing === "place"
          ? hasPlace(kind)
          : isBodied(kind)),
  );
  const hangs = info.pointer.endsWith("/hangs_on");
  function put(on: string) {
    if (!hangs) session.edit([{ op: "replace", path: at, value: on }]);
    // The core hangs it up, or lets it go, so that it stays where it is.
    else
      void session.offered(() =>
        got(
          api.POST("/api/shots/{shot}/hang", {
            params: { path: { shot: session.id } },
            body: { thing: own, on, frame: useView.getState().frame },
          }),
        ),
      );
  }
  return (
    <Tooltip title={info.tells} placement="left">
      <label className="row">
        <span className="number-label">{info.label}</span>
        <select
          className="plain-input choice-list"
          aria-label={info.label}
          value={value}
          onChange={(e) => put(e.target.value)}
        >
          <option value="">{hangs || info.thing !== "place" ? "nothing" : "its own aim"}</option>
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
