import type { RefObject } from "react";

/** A chooser of files that is opened by something else; the same file may be chosen again. */
export function HiddenFile({
  chooser,
  label,
  accept,
  onFile,
}: {
  chooser: RefObject<HTMLInputElement | null>;
  label: string;
  accept: string;
  onFile: (file: File) => void;
}) {
  return (
    <input
      ref={chooser}
      type="file"
      hidden
      accept={accept}
      aria-label={label}
      onChange={(e) => {
        const file = e.target.files?.[0];
        e.target.value = "";
        if (file) onFile(file);
      }}
    />
  );
}
