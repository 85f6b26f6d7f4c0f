import { Button, Tooltip } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { useShotState } from "../document/context";
import { lookedThrough } from "../document/cameras";
import { useListed, type Listed } from "../things";
import { useView } from "../view";
import { KeyCamera } from "./KeyCamera";
import { useCameraCommands } from "./useCameraCommands";

/** What belongs to a camera as a whole: framing, cuts, further cameras. */
export function CameraTools({ thing }: { thing: Listed }) {
  const { frameTitles, addCamera, cutTo, removeCamera } = useCameraCommands();
  const frame = useView((s) => s.frame);
  const seen = useShotState(({ shot }) => lookedThrough(shot, frame)) === thing.at;
  const several = useListed().filter(({ kind }) => kind === "camera").length > 1;
  return (
    <section className="group camera-tools">
      {seen ? (
        <Button variant="outlined" fullWidth startIcon={<Icon name="frame" />} onClick={frameTitles}>
          Frame the title
        </Button>
      ) : (
        <Tooltip title="From this frame on it is looked through, up to the next cut">
          <Button
            variant="outlined"
            fullWidth
            startIcon={<Icon name="camera" />}
            onClick={() => void cutTo(thing.at, frame)}
          >
            Cut to it at frame {frame}
          </Button>
        </Tooltip>
      )}
      <div className="camera-acts">
        <Tooltip title="Another camera like this one, looked through from the present frame on">
          <Button
            size="small"
            startIcon={<Icon name="plus" size={14} />}
            onClick={() => void addCamera(thing.at)}
          >
            Another camera
          </Button>
        </Tooltip>
        <KeyCamera thing={thing} />
        {several && thing.at !== "/camera" && (
          <Button
            size="small"
            startIcon={<Icon name="trash" size={14} />}
            onClick={() => void removeCamera(thing.at)}
          >
            Remove it
          </Button>
        )}
      </div>
    </section>
  );
}
