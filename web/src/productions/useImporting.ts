import { useLocation } from "wouter";
import { bringFile } from "../api/client";
import { say } from "../parts/notices";
import { bringLibrary, renamed, sorted } from "./folder";

/** Shots, sequences and timelines that come into a production, as files or with a folder. */
export function useImporting(id: string, refresh: () => Promise<unknown>) {
  const [, go] = useLocation();

  async function bringFolder(files: Iterable<File>) {
    const { library, documents } = sorted(files);
    if (!documents.length) return say("There is no shot, sequence or timeline in this folder.");
    const { names, refused } = await bringLibrary(library, (file) => say(`${file.name} is being read …`));
    let count = 0;
    for (const document of documents) {
      const text = renamed(await document.text(), names);
      // One that is refused does not keep the others out.
      const came = await bring(new File([text], document.name), false).catch((why: unknown) => {
        refused.push(`${document.name}: ${why instanceof Error ? why.message : "it was refused"}.`);
        return false;
      });
      if (came) count += 1;
    }
    await refresh();
    const lacking = refused.length ? ` ${refused.join(" ")}` : "";
    say(`${count} of ${documents.length} were imported, with ${names.size} files.${lacking}`);
  }

  /** Whether it came in; `goes` there where it is a sequence. */
  async function bring(file: File, goes = true): Promise<boolean> {
    const isSequence = (await file.slice(0, 200).text()).includes('"dreizack_sequence"');
    if (isSequence || /\.(otio|edl)$/i.test(file.name)) {
      const name = file.name.replace(/\.\w+$/, "").slice(0, 120);
      const made = (await bringFile(
        `/api/productions/${id}/sequences/files?name=${encodeURIComponent(name)}`,
        file,
      )) as { id: string };
      if (goes) go(`/sequences/${made.id}`);
      return true;
    }
    // Sent as it is: the core says what is wrong with a damaged file.
    const answer = await fetch(`/api/productions/${id}/files`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: file,
    });
    if (!answer.ok) {
      const problem = (await answer.json().catch(() => null)) as { detail?: string } | null;
      say(`${file.name} was not imported: ${problem?.detail ?? `the server answered ${answer.status}`}.`);
      return false;
    }
    if (goes) await refresh();
    if (goes) say(`${file.name} was imported.`);
    return true;
  }

  return { bring, bringFolder };
}
