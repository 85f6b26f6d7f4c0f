import { Button } from "@mui/material";
import { useState } from "react";
import { api, got } from "../api/client";
import type { Schemas } from "../api/client";
import { say, sayFault } from "../parts/notices";

const SHOWN = 8;

const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
const total = (files: Schemas["Unused"][]) => size(files.reduce((sum, one) => sum + one.bytes, 0));
const many = (count: number) => (count === 1 ? "1 file" : `${count} files`);

/** Files that nothing uses: first shown, then removed. */
export function CleanUp() {
  const [files, setFiles] = useState<Schemas["Unused"][] | null>(null);
  const [busy, setBusy] = useState(false);
  const work = async (doing: () => Promise<void>) => {
    setBusy(true);
    await doing().catch(sayFault);
    setBusy(false);
  };
  const look = () => work(async () => setFiles(await got(api.GET("/api/library/unused"))));
  const remove = (them: Schemas["Unused"][]) =>
    work(async () => {
      const body = { files: them.map(({ file }) => file) };
      const gone = await got(api.POST("/api/library/unused/remove", { body }));
      say(`${many(gone.files)} went: ${size(gone.bytes)}.`);
      setFiles(null);
    });
  if (!files)
    return (
      <p className="clean-up">
        <Button size="small" color="inherit" disabled={busy} onClick={() => void look()}>
          {busy ? "Looking …" : "Look for files that nothing uses"}
        </Button>
      </p>
    );
  if (!files.length)
    return <p className="clean-up muted">Every file of the library is used, or was brought just now.</p>;
  return (
    <section className="clean-up" aria-label="files that nothing uses">
      <p>
        {many(files.length)} of the library, {total(files)}: no shot, take, sequence, look, nor anything that
        can be undone uses {files.length === 1 ? "it" : "them"}.
      </p>
      <ul>
        {files.slice(0, SHOWN).map(({ file, bytes }) => (
          <li key={file}>
            {file} <span className="muted">{size(bytes)}</span>
          </li>
        ))}
        {files.length > SHOWN && <li className="muted">and {files.length - SHOWN} smaller ones</li>}
      </ul>
      <Button size="small" variant="outlined" disabled={busy} onClick={() => void remove(files)}>
        Remove {many(files.length)}
      </Button>
      <Button size="small" color="inherit" disabled={busy} onClick={() => setFiles(null)}>
        Keep them
      </Button>
    </section>
  );
}
