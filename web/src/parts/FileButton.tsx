import { Button, Tooltip } from "@mui/material";
import { useRef, type ReactNode } from "react";

interface Props {
  /** What the file is, for those who do not see the button. */
  label: string;
  /** Endings of the files that may be chosen. */
  accept: string;
  tells?: string;
  outlined?: boolean;
  onChosen: (file: File) => void;
  children: ReactNode;
}

/** A button that lets one choose a file. */
export function FileButton({ label, accept, tells = "", outlined = false, onChosen, children }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <>
      <Tooltip title={tells}>
        <Button
          size="small"
          variant={outlined ? "outlined" : "text"}
          onClick={() => chooser.current?.click()}
        >
          {children}
        </Button>
      </Tooltip>
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label={label}
        accept={accept}
        onChange={(e) => {
          const file = e.target.files?.[0];
          // The same file may be chosen again.
          e.target.value = "";
          if (file) onChosen(file);
        }}
      />
    </>
  );
}
