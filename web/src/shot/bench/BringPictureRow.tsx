import { Button, Tooltip } from "@mui/material";
import { useRef, useState } from "react";
import { api, got } from "../../api/client";
import { useBroughtName } from "../../api/queries";
import { say, sayFault } from "../../parts/notices";
import { bringPanorama, bringPicture, bringVideo } from "../artwork/bring";
import { useAt, useSession } from "../document/context";

export type Kind = "picture" | "panorama" | "video";

const PICTURES = ".png,.jpg,.jpeg,.webp";
const KINDS = {
  picture: { bring: bringPicture, accept: PICTURES, says: "Bring a picture …", name: "Picture file" },
  panorama: {
    bring: bringPanorama,
    accept: `.hdr,.exr,${PICTURES}`,
    says: "Bring HDR, EXR …",
    name: "Panorama file",
  },
  video: { bring: bringVideo, accept: "video/*,.mov,.mkv,.mxf", says: "Bring a video …", name: "Video file" },
} as const;

interface Props {
  at: string;
  label?: string;
  /** Shown only where the value at this place is this one. */
  when?: { at: string; is: string };
  kind?: Kind;
}

/**
 * A picture or video from a file, where one is asked for; once it is there, another may take its place
 * wherever it is used.
 */
export function BringPictureRow({ at, label, when, kind = "picture" }: Props) {
  const session = useSession();
  const input = useRef<HTMLInputElement>(null);
  const everywhere = useRef(false);
  const [busy, setBusy] = useState(false);
  const name = String(useAt(at) ?? "");
  const called = useBroughtName(name);
  const wanted = useAt(when?.at ?? at) === when?.is || !when;
  if (!wanted) return null;
  const { bring, accept, says, name: fileName } = KINDS[kind];
  async function take(file: File | undefined) {
    if (!file) return;
    setBusy(true);
    try {
      const brought = await bring(file);
      if (!everywhere.current) session.edit([{ op: "replace", path: at, value: brought.file }]);
      else {
        const { shots } = await got(
          api.POST("/api/library/replace", { body: { old: name, new: brought.file } }),
        );
        say(`Replaced in ${shots} ${shots === 1 ? "shot" : "shots"}`);
      }
    } catch (why) {
      sayFault(why, file.name);
    } finally {
      setBusy(false);
    }
  }
  const ask = (all: boolean) => {
    everywhere.current = all;
    input.current?.click();
  };
  return (
    <div className="row">
      <span className="number-label">{label ?? kind}</span>
      {name && (
        <img className="brought" src={`/api/library/thumbnails/${name}`} alt="" title={called || name} />
      )}
      <Button size="small" variant="outlined" disabled={busy} onClick={() => ask(false)}>
        {busy ? "Reading …" : name ? "Another one …" : says}
      </Button>
      {called && !busy && (
        <span className="brought-name muted" title={called}>
          {called}
        </span>
      )}
      {name && !busy && (
        <Tooltip title={`Another ${kind} in its place wherever it is used, in every shot`}>
          <Button size="small" onClick={() => ask(true)}>
            Everywhere …
          </Button>
        </Tooltip>
      )}
      <input
        ref={input}
        type="file"
        hidden
        accept={accept}
        aria-label={fileName}
        onChange={(e) => {
          void take(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
    </div>
  );
}
