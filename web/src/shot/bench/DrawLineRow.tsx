import { Button } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { useAt } from "../document/context";
import { look } from "../view";

/** Opens the drawing surface on the line that words run along. */
export function DrawLineRow({ at, thing }: { at: string; thing: string }) {
  const kind = useAt(`${at}/kind`);
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
