import { Button, Tooltip } from "@mui/material";
import { useRef } from "react";
import { bringFile, type Schemas } from "../../api/client";
import { say, sayFault } from "../../parts/notices";
import { useAt, useSession } from "../document/context";
import { useView } from "../view";

/** A table of colours: brought, taken off, and the whole grade as one. */
export function TableRow({ at }: { at: string }) {
  const session = useSession();
  const chooser = useRef<HTMLInputElement>(null);
  const file = String(useAt(`${at}/file`) ?? "");
  const frame = useView((s) => s.frame);
  async function bring(chosen: File) {
    try {
      const found = (await bringFile("/api/library/tables", chosen)) as Schemas["TableFile"];
      session.edit([{ op: "replace", path: `${at}/file`, value: found.file }]);
      say(`${chosen.name}: ${found.steps} steps a side`);
    } catch (why) {
      sayFault(why, chosen.name);
    }
  }
  return (
    <div className="row">
      <span className="number-label">table</span>
      <Button size="small" variant="outlined" onClick={() => chooser.current?.click()}>
        {file ? "Another …" : "Bring a .cube …"}
      </Button>
      {file && (
        <Button size="small" onClick={() => session.edit([{ op: "replace", path: `${at}/file`, value: "" }])}>
          Take off
        </Button>
      )}
      <Tooltip title="The whole grade at this frame as a table for shown colours">
        <Button size="small" href={`/api/shots/${session.id}/grade.cube?frame=${frame}`} download>
          Out
        </Button>
      </Tooltip>
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label="Table of colours"
        accept=".cube"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = "";
          if (chosen) void bring(chosen);
        }}
      />
    </div>
  );
}
