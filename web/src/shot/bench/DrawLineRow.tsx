import { Button } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { useAt } from "../document/context";
import { look } from "../view";

interface Props {
  at: string;
  thing: string;
  /** The choice that says whether there is a drawn line. */
  chosenBy: "kind" | "rule";
}

/** Opens the drawing surface on the line that words, or a strand, run along. */
export function DrawLineRow({ at, thing, chosenBy }: Props) {
  const kind = useAt(`${at}/${chosenBy}`);
  if (kind !== "drawn") return null;
  return (
    <Button
      size="small"
      variant="outlined"
      fullWidth
      startIcon={<Icon name="mark" size={15} />}
      onClick={() => look({ surface: { kind: "draw", thing, at: `${at}/drawn`, line: true } })}
    >
      Draw the line
    </Button>
  );
}
