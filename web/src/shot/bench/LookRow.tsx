import { Button, Popover } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, bringFile, got, type Schemas } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { say, sayFault } from "../../parts/notices";
import { Still } from "../../parts/Still";
import { useAt, useSession, useShotState } from "../document/context";
import { valueAt } from "../document/pointer";
import { hash } from "./Finishes";
import { KeepRow } from "./KeepRow";

type Look = Schemas["Look"];
type Title = Schemas["Title"];
type Section = keyof Look["sections"] & keyof Title;

/** Sections of a title by what they are called on the bench. */
const SECTIONS: [Section, string][] = [
  ["setting", "setting"],
  ["outlines", "outline"],
  ["body", "body and edges"],
  ["shells", "shells"],
  ["deformations", "deformation"],
  ["finish", "finish"],
  ["visibility", "visibility"],
];

/** Looks that are kept, and what is done with them for the title at an address. */
function useLooks(at: string, wanted: Section[], scales: boolean) {
  const session = useSession();
  const client = useQueryClient();
  const worn = String(useAt(`${at}/look`) ?? "");
  const looks = useQuery({ queryKey: ["looks"], queryFn: () => got(api.GET("/api/looks")) }).data ?? [];
  const followed = looks.find((one) => one.name === worn);

  const wear = (name: string) =>
    session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/things/{thing}/look", {
          params: { path: { shot: session.id, thing: at.split("/")[2]! } },
          body: { name },
        }),
      ),
    );
  async function save(name: string) {
    try {
      const sections =
        name === worn && followed ? (Object.keys(followed.look.sections) as Section[]) : wanted;
      session.edit([{ op: "replace", path: `${at}/look`, value: name }]);
      await session.settled();
      const now = valueAt(session.store.getState().shot, at) as Title;
      const body: Look = {
        sections: Object.fromEntries(sections.map((section) => [section, now[section]])),
        size: now.setting!.size!,
        scales,
      };
      const { shots } = await got(api.PUT("/api/looks/{name}", { params: { path: { name } }, body }));
      await client.invalidateQueries({ queryKey: ["looks"] });
      say(
        shots
          ? `“${name}” is saved; ${shots} ${shots === 1 ? "shot follows" : "shots follow"} it`
          : `“${name}” is saved`,
      );
    } catch (why) {
      sayFault(why, name);
    }
  }
  async function forget(name: string) {
    try {
      await got(api.DELETE("/api/looks/{name}", { params: { path: { name } } }));
      await client.invalidateQueries({ queryKey: ["looks"] });
    } catch (why) {
      sayFault(why, name);
    }
  }
  async function bring(chosen: File | undefined) {
    if (!chosen) return;
    try {
      await bringFile("/api/library/looks", chosen);
      await client.invalidateQueries({ queryKey: ["looks"] });
    } catch (why) {
      sayFault(why, chosen.name);
    }
  }

  return { looks, worn, followed, wear, save, forget, bring };
}

/** The look of a title: saved settings, worn by many, changed in one place. */
export function LookRow({ at }: { at: string }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [wanted, setWanted] = useState<Section[]>(["outlines", "body", "shells", "finish"]);
  const [scales, setScales] = useState(true);
  const file = useRef<HTMLInputElement>(null);
  const session = useSession();
  const { looks, worn, followed, wear, save, forget, bring } = useLooks(at, wanted, scales);
  const revision = useShotState((s) => (s.waiting ? -1 : s.revision));
  const changed =
    useQuery({
      queryKey: ["changed looks", session.id, revision],
      queryFn: () =>
        got(api.GET("/api/shots/{shot}/looks/changed", { params: { path: { shot: session.id } } })),
      enabled: Boolean(followed) && revision >= 0,
      placeholderData: (before) => before,
    }).data?.includes(at.split("/")[2]!) && followed;

  return (
    <div className="row">
      <span className="number-label">look</span>
      <Button
        size="small"
        variant="outlined"
        fullWidth
        aria-haspopup="dialog"
        endIcon={<Icon name="down" size={13} />}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {followed ? (changed ? `${worn}, changed` : worn) : "none"}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
        transitionDuration={0}
      >
        <KeepRow
          what="look"
          followed={changed ? worn : null}
          onSave={(name) => void save(name)}
          forgettable={looks.map((one) => one.name)}
          onForget={(name) => void forget(name)}
        />
        <div className="reach-list look-sections" role="group" aria-label="What a new look holds">
          {SECTIONS.map(([section, label]) => (
            <label key={section}>
              <input
                type="checkbox"
                checked={wanted.includes(section)}
                onChange={(e) =>
                  setWanted(e.target.checked ? [...wanted, section] : wanted.filter((one) => one !== section))
                }
              />
              {label}
            </label>
          ))}
        </div>
        <label className="look-scales">
          <input type="checkbox" checked={scales} onChange={(e) => setScales(e.target.checked)} />
          lengths go along with the size of the letters
        </label>
        <div className="finishes" role="group" aria-label="Looks">
          {looks.map((one) => (
            <button
              key={one.name}
              aria-label={one.name}
              aria-pressed={one.name === worn}
              onClick={() => void wear(one.name)}
            >
              <span className="finish-chip">
                <Still
                  address={`/api/looks/${encodeURIComponent(one.name)}/chip?${hash(JSON.stringify(one.look))}`}
                  meanwhile={<i />}
                />
              </span>
              {one.name}
            </button>
          ))}
        </div>
        {looks.length === 0 && (
          <p className="hint keep-hint">
            No looks yet. Save this title’s settings under a name, and other titles can wear them.
          </p>
        )}
        <div className="keep-row files">
          <Button size="small" onClick={() => file.current?.click()}>
            Bring a look …
          </Button>
          {followed && (
            <Button size="small" href={`/api/looks/${encodeURIComponent(worn)}/file`}>
              Export “{worn}”
            </Button>
          )}
          <input
            ref={file}
            type="file"
            hidden
            accept=".json"
            aria-label="Look file"
            onChange={(e) => void bring(e.target.files?.[0])}
          />
        </div>
      </Popover>
    </div>
  );
}
