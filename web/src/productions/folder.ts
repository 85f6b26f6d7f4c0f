import { bringFile } from "../api/client";

/** What of a folder is of use: files of its library, and shots, sequences and timelines beside it. */
export interface Folder {
  library: File[];
  documents: File[];
}

const inLibrary = (file: File) => /(^|\/)library\/[^/]+$/.test(file.webkitRelativePath);
const isDocument = (file: File) => /\.(json|otio|edl)$/i.test(file.name);

/** A folder that was chosen, sorted; what is hidden, or of no use, is left alone. */
export function sorted(files: Iterable<File>): Folder {
  const seen = [...files].filter((file) => !file.name.startsWith("."));
  return {
    library: seen.filter((file) => inLibrary(file) && !file.name.endsWith(".json")),
    documents: seen
      .filter((file) => isDocument(file) && !inLibrary(file))
      .sort((a, b) => a.webkitRelativePath.localeCompare(b.webkitRelativePath)),
  };
}

/** The text of a document whose files are called otherwise here. */
export function renamed(text: string, names: ReadonlyMap<string, string>): string {
  let found = text;
  for (const [old, now] of names) {
    if (old === now) continue;
    found = found.replaceAll(`"${old}"`, `"${now}"`);
    if (old.endsWith(".font")) found = found.replaceAll(`"${old.slice(0, -5)}"`, `"${now.slice(0, -5)}"`);
  }
  return found;
}

/** Bring the files of a library; what each is called here, and what was refused, in words. */
export async function bringLibrary(
  files: File[],
  told: (file: File) => void,
): Promise<{ names: Map<string, string>; refused: string[] }> {
  const names = new Map<string, string>();
  const refused: string[] = [];
  for (const file of files) {
    told(file);
    try {
      const at = `/api/library/files?name=${encodeURIComponent(file.name)}`;
      names.set(file.name, ((await bringFile(at, file)) as { file: string }).file);
    } catch (why) {
      refused.push(why instanceof Error ? why.message : file.name);
    }
  }
  return { names, refused };
}
