import { Button } from "@mui/material";
import { bringFile } from "../../api/client";
import { FileButton } from "../../parts/FileButton";
import { say } from "../../parts/notices";
import { useSession } from "../document/context";

/** The grade as a list of colour decisions, out and in. */
export function GradeTools() {
  const session = useSession();
  async function bring(file: File) {
    const done = await session.offered(() => bringFile(`/api/shots/${session.id}/grade`, file));
    if (done) say(`The grade is that of ${file.name}.`);
  }
  return (
    <div className="row">
      <Button size="small" href={`/api/shots/${session.id}/grade`} download>
        CDL out
      </Button>
      <FileButton label="Colour decisions" accept=".cdl,.cc,.ccc,.xml" onChosen={(file) => void bring(file)}>
        CDL in
      </FileButton>
    </div>
  );
}
