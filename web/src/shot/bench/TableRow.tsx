import { Button, Tooltip } from "@mui/material";
import { bringFile, named, type Schemas } from "../../api/client";
import { useBroughtName } from "../../api/queries";
import { FileButton } from "../../parts/FileButton";
import { say, sayFault } from "../../parts/notices";
import { useAt, useSession } from "../document/context";
import { useView } from "../view";

/** A table of colours: brought, taken off, and the whole grade as one. */
export function TableRow({ at }: { at: string }) {
  const session = useSession();
  const file = String(useAt(`${at}/file`) ?? "");
  const name = useBroughtName(file);
  const frame = useView((s) => s.frame);
  async function bring(chosen: File) {
    try {
      const found = await named(
        (await bringFile("/api/library/tables", chosen)) as Schemas["TableFile"],
        chosen,
      );
      session.edit([{ op: "replace", path: `${at}/file`, value: found.file }]);
      say(`${chosen.name}: ${found.steps} steps a side`);
    } catch (why) {
      sayFault(why, chosen.name);
    }
  }
  return (
    <div className="row">
      <span className="number-label">table</span>
      <FileButton outlined label="Table of colours" accept=".cube" onChosen={(chosen) => void bring(chosen)}>
        {file ? "Another …" : "Bring a .cube …"}
      </FileButton>
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
      {name && (
        <span className="brought-name muted" title={name}>
          {name}
        </span>
      )}
    </div>
  );
}
