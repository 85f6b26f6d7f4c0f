import { Tooltip } from "@mui/material";
import type { ValueInfo } from "../../api/queries";
import { useAt, useSession } from "../document/context";
import { DrawnProfile } from "./DrawnProfile";

/** Sections through an edge: the wall rises on the left, the face runs to the right. */
const SECTIONS: Record<string, string> = {
  none: "M4 18V4H18",
  chamfer: "M4 18V12L12 4H18",
  roundover: "M4 18V12A8 8 0 0 1 12 4H18",
  cove: "M4 18V12A8 8 0 0 0 12 4H18",
  ogee: "M4 18V12A4 4 0 0 0 8 8A4 4 0 0 1 12 4H18",
  step: "M4 18V8H9V4H18",
  drawn: "M4 18V13C4 9 8 11 9 8S10 4 13 4H18",
};

/** The profiles as drawings of themselves. */
export function ProfileRow({ info, at }: { info: ValueInfo; at: string }) {
  const session = useSession();
  const value = String(useAt(at));
  return (
    <>
      <div className="row">
        <span className="number-label">profile</span>
        <div className="profiles" role="radiogroup" aria-label="profile">
          {info.choices!.map((name) => (
            <Tooltip key={name} title={name}>
              <button
                role="radio"
                aria-checked={name === value}
                aria-label={name}
                onClick={() => name !== value && session.edit([{ op: "replace", path: at, value: name }])}
              >
                <svg width="20" height="20" viewBox="0 0 20 20" aria-hidden="true">
                  <path d={`${SECTIONS[name] ?? SECTIONS.none}V18Z`} className="solid" />
                  <path d={SECTIONS[name] ?? SECTIONS.none} />
                </svg>
              </button>
            </Tooltip>
          ))}
        </div>
      </div>
      {value === "drawn" && <DrawnProfile at={at.replace(/\/profile$/, "/drawn")} />}
    </>
  );
}
