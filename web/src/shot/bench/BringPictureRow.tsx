import { Button } from "@mui/material";
import { useRef } from "react";
import { sayFault } from "../../parts/notices";
import { bringPanorama, bringPicture } from "../artwork/bring";
import { useAt, useSession } from "../document/context";

const PICTURES = ".png,.jpg,.jpeg,.webp";

/** A picture from a file, where one is asked for. */
export function BringPictureRow({ at, when, panorama = false }: { at: string; when?: { at: string; is: string }; panorama?: boolean }) {
  const session = useSession();
  const input = useRef<HTMLInputElement>(null);
  const name = String(useAt(at) ?? "");
  const wanted = useAt(when?.at ?? at) === when?.is || !when;
  if (!wanted) return null;
  async function bring(file: File | undefined) {
    if (!file) return;
    try {
      const brought = await (panorama ? bringPanorama(file) : bringPicture(file));
      session.edit([{ op: "replace", path: at, value: brought.file }]);
    } catch (why) {
      sayFault(why, file.name);
    }
  }
  return (
    <div className="row">
      <span className="number-label">{panorama ? "panorama" : "picture"}</span>
      <Button size="small" variant="outlined" onClick={() => input.current?.click()}>
        {name ? "Another one …" : panorama ? "Bring HDR, EXR …" : "Bring a picture …"}
      </Button>
      <input
        ref={input} type="file" hidden accept={panorama ? `.hdr,.exr,${PICTURES}` : PICTURES} aria-label={panorama ? "Panorama file" : "Picture file"}
        onChange={(e) => void bring(e.target.files?.[0])}
      />
    </div>
  );
}
