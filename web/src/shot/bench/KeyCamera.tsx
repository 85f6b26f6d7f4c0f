import { Button, Tooltip } from "@mui/material";
import { useVocabulary } from "../../api/queries";
import { useShotState } from "../document/context";
import type { Listed } from "../things";
import { applies } from "./applies";
import { useGroupKey } from "./GroupKey";

/** A key for everything that a camera is at the present frame. */
export function KeyCamera({ thing }: { thing: Listed }) {
  const infos = useVocabulary()?.values.camera ?? [];
  const meant = useShotState(({ shot }) =>
    infos
      .filter((info) => info.kind === "number" && info.keyable && applies(shot, thing.at, info))
      .map((info) => thing.at + info.pointer)
      .join(),
  );
  const { keyedHere, toggleKey } = useGroupKey(meant ? meant.split(",") : []);
  return (
    <Tooltip title="A key at this frame for its place, its aim, its lens and all else of it that can move">
      <Button size="small" aria-pressed={keyedHere} onClick={toggleKey}>
        {keyedHere ? "Remove its keys here" : "Key all of it"}
      </Button>
    </Tooltip>
  );
}
