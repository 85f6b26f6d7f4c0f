import { Button, Tooltip } from "@mui/material";
import { bringFile, type Schemas } from "../../api/client";
import { FileButton } from "../../parts/FileButton";
import { say } from "../../parts/notices";
import { useSession } from "../document/context";

/** The camera of another program as keys of this one, and this one as a table. */
export function CameraFileRow() {
  const session = useSession();
  const bring = (chosen: File) =>
    session.offered(async () => {
      const ending = chosen.name.toLowerCase().split(".").pop() ?? "";
      const kind = ending === "csv" ? "csv" : ["glb", "gltf"].includes(ending) ? "gltf" : "usd";
      const { frames, of } = (await bringFile(
        `/api/shots/${session.id}/camera/file?kind=${kind}`,
        chosen,
      )) as Schemas["CameraBrought"];
      say(`The camera goes as in ${chosen.name}: ${frames} frames, from ${of} of the file`);
    });
  return (
    <div className="row">
      <span className="number-label">its course</span>
      <FileButton
        outlined
        label="Camera of another program"
        accept=".usd,.usda,.usdc,.glb,.gltf,.csv"
        tells="A USD layer (.usdc, .usda), glTF (.glb, .gltf) or a table (.csv): its camera’s place, turn and lens become keys"
        onChosen={(chosen) => void bring(chosen)}
      >
        Bring a camera …
      </FileButton>
      <Tooltip title="Place, turn and angle of view, a row a frame">
        <Button size="small" href={`/api/shots/${session.id}/camera.csv`} download>
          Out
        </Button>
      </Tooltip>
    </div>
  );
}
