import { Button } from "@mui/material";
import { useState } from "react";

interface Props {
  what: "finish" | "look" | "movement" | "ease" | "look of the shot";
  /** The saved one that is worn, but has been changed here. */
  followed: string | null;
  onSave: (name: string) => void;
  forgettable: string[];
  onForget: (name: string) => void;
}

/** Save what is worn under a name, bring the saved one up to date, or forget one. */
export function KeepRow({ what, followed, onSave, forgettable, onForget }: Props) {
  const [name, setName] = useState("");
  const ready = name.trim().length > 0;
  return (
    <div className="keep-row">
      {followed && (
        <Button size="small" variant="contained" fullWidth onClick={() => onSave(followed)}>
          Change “{followed}” wherever it is used
        </Button>
      )}
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (!ready) return;
          onSave(name.trim());
          setName("");
        }}
      >
        <input
          className="plain-input"
          aria-label={`Name of the ${what}`}
          placeholder={`Save this ${what} as …`}
          maxLength={60}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="small" type="submit" disabled={!ready}>
          Save
        </Button>
      </form>
      {forgettable.length > 0 && (
        <select
          className="plain-input"
          aria-label={`Forget a ${what}`}
          value=""
          onChange={(e) => e.target.value && onForget(e.target.value)}
        >
          <option value="">Forget one …</option>
          {forgettable.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      )}
    </div>
  );
}
