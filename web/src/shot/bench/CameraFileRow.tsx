import { Button, Tooltip } from "@mui/material";
import { useRef } from "react";
import { bringFile, type Schemas } from "../../api/client";
import { say } from "../../parts/notices";
import { useSession } from "../document/context";

/** The camera of another program as keys of this one, and this one as a table. */
export function CameraFileRow() {
  const session = useSession();
  const chooser = useRef<HTMLInputElement>(null);
  const bring = (chosen: File) =>
    session.offered(async () => {
      const kind = chosen.name.toLowerCase().endsWith(".csv") ? "csv" : "usd";
      const { frames, of } = (await bringFile(
        `/api/shots/${session.id}/camera/file?kind=${kind}`,
        chosen,
      )) as Schemas["CameraBrought"];
      say(`The camera goes as in ${chosen.name}: ${frames} frames, from ${of} of the file`);
    });
  return (
    <div className="row">
      <span className="number-label">its course</span>
      <Tooltip title="A USD layer (.usdc, .usda) or a table (.csv): its camera’s place, turn and lens become keys">
        <Button size="small" variant="outlined" onClick={() => chooser.current?.click()}>
          Bring a camera …
        </Button>
      </Tooltip>
      <Tooltip title="Place, turn and angle of view, a row a frame">
        <Button size="small" href={`/api/shots/${session.id}/camera.csv`} download>
          Out
        </Button>
      </Tooltip>
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label="Camera of another program"
        accept=".usd,.usda,.usdc,.csv"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = "";
          if (chosen) void bring(chosen);
        }}
      />
    </div>
  );
}
