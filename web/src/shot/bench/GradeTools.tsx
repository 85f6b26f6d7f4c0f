import { Button } from "@mui/material";
import { useRef } from "react";
import { bringFile } from "../../api/client";
import { say } from "../../parts/notices";
import { useSession } from "../document/context";

/** The grade as a list of colour decisions, out and in. */
export function GradeTools() {
  const session = useSession();
  const chooser = useRef<HTMLInputElement>(null);
  async function bring(file: File) {
    const done = await session.offered(() => bringFile(`/api/shots/${session.id}/grade`, file));
    if (done) say(`The grade is that of ${file.name}.`);
  }
  return (
    <div className="row">
      <Button size="small" href={`/api/shots/${session.id}/grade`} download>
        CDL out
      </Button>
      <Button size="small" onClick={() => chooser.current?.click()}>
        CDL in
      </Button>
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label="Colour decisions"
        accept=".cdl,.cc,.ccc,.xml"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void bring(file);
        }}
      />
    </div>
  );
}
