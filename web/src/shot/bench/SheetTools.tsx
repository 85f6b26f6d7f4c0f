import { Button } from "@mui/material";
import { useRef } from "react";
import { sayFault } from "../../parts/notices";
import { bringPicture } from "../artwork/bring";
import { useAt, useSession } from "../document/context";
import { setValue } from "../document/values";
import { useListed } from "../things";
import { useView } from "../view";

/** Which title is cut out of a sheet; with it, the sheet goes where the title stands. */
export function CutRow({ at }: { at: string }) {
  const session = useSession();
  const titles = useListed().filter((thing) => thing.kind === "title");
  const value = String(useAt(`${at}/cut`) ?? "");
  function choose(title: string) {
    const shot = session.store.getState().shot!;
    const thing = shot.things?.[title];
    const { frame } = useView.getState();
    const place = thing?.kind === "title" ? thing.place : undefined;
    const follow = place
      ? (["position", "rotation"] as const).flatMap((part) =>
          (["x", "y", "z"] as const).flatMap((axis) =>
            setValue(
              shot,
              `${at}/place/${part}/${axis}`,
              (place[part]?.[axis] ?? 0) + (part === "position" && axis === "y" ? 0.2 : 0),
              frame,
            ),
          ),
        )
      : [];
    session.edit([{ op: "replace", path: `${at}/cut`, value: title }, ...follow]);
  }
  return (
    <div className="row">
      <span className="number-label">cut out</span>
      <select
        className="plain-input"
        aria-label="Title that is cut out"
        value={titles.some((t) => t.key === value) ? value : ""}
        onChange={(e) => choose(e.target.value)}
      >
        <option value="">nothing</option>
        {titles.map((title) => (
          <option key={title.key} value={title.key}>
            {title.name}
          </option>
        ))}
      </select>
    </div>
  );
}

/** The picture on a sheet. */
export function PictureRow({ at }: { at: string }) {
  const session = useSession();
  const file = useRef<HTMLInputElement>(null);
  const kind = useAt(`${at}/fill/kind`);
  const name = String(useAt(`${at}/fill/picture`) ?? "");
  if (kind !== "picture") return null;
  async function bring(chosen: File | undefined) {
    if (!chosen) return;
    try {
      const brought = await bringPicture(chosen);
      session.edit([{ op: "replace", path: `${at}/fill/picture`, value: brought.file }]);
    } catch (why) {
      sayFault(why, chosen.name);
    }
  }
  return (
    <div className="row">
      <span className="number-label">picture</span>
      <Button size="small" variant="outlined" onClick={() => file.current?.click()}>
        {name ? "Another picture …" : "Bring a picture …"}
      </Button>
      <input
        ref={file}
        type="file"
        hidden
        accept=".png,.jpg,.jpeg,.webp"
        aria-label="Picture for the sheet"
        onChange={(e) => void bring(e.target.files?.[0])}
      />
    </div>
  );
}
