import { Button, Popover } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, type Schemas } from "../../api/client";
import { useVocabulary } from "../../api/queries";
import { toHex } from "../../parts/colour/convert";
import { Icon } from "../../parts/Icon";
import { say, sayFault } from "../../parts/notices";
import { Still } from "../../parts/Still";
import { useAt, useSession } from "../document/context";
import { removeKeysBelow } from "../document/values";
import { FinishGrid } from "./FinishGrid";
import { KeepRow } from "./KeepRow";

type Finish = Schemas["Finish"];

/** The finishes of the library, each as the renderer shows it; a click puts one on. One's own come first. */
export function Finishes({ at, part = false }: { at: string; part?: boolean }) {
  const session = useSession();
  const client = useQueryClient();
  const worn = useAt(at) as Finish | undefined;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const own =
    useQuery({ queryKey: ["finishes"], queryFn: () => got(api.GET("/api/library/finishes")) }).data ?? [];
  const ours = Object.entries(useVocabulary()?.finishes ?? {}).filter(
    ([name]) => !own.some((one) => one.name === name),
  );
  const finishes: [string, Finish][] = [
    ...own.map(({ name, finish }): [string, Finish] => [name, finish]),
    ...ours,
  ];
  const plain = ({ parts, ...surface }: Finish) => JSON.stringify(part ? surface : { ...surface, parts });
  const present = worn && finishes.find(([, finish]) => plain(finish) === plain(worn));
  const followed = worn?.named && own.some((one) => one.name === worn.named) ? worn.named : null;

  function wear(finish: Finish) {
    const { parts, ...surface } = finish;
    const { shot } = session.store.getState();
    if (shot)
      session.edit([
        ...removeKeysBelow(shot, `${at}/`),
        { op: "replace", path: at, value: part ? surface : { ...surface, parts } },
      ]);
  }
  async function save(name: string) {
    try {
      // What is saved is what the server has.
      await session.settled();
      const finish = { ...structuredClone(worn!), ...(part && { parts: {} }) };
      session.edit([{ op: "replace", path: `${at}/named`, value: name }]);
      await session.settled();
      const { shots } = await got(
        api.PUT("/api/library/finishes/{name}", { params: { path: { name } }, body: finish }),
      );
      await client.invalidateQueries({ queryKey: ["finishes"] });
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
      await got(api.DELETE("/api/library/finishes/{name}", { params: { path: { name } } }));
      await client.invalidateQueries({ queryKey: ["finishes"] });
    } catch (why) {
      sayFault(why, name);
    }
  }

  return (
    <div className="row finish-row">
      {present && (
        <span className="finish-chip small-chip" aria-hidden="true">
          <Chip name={present[0]} finish={present[1]} />
        </span>
      )}
      <Button
        variant="outlined"
        size="small"
        fullWidth
        aria-haspopup="dialog"
        endIcon={<Icon name="down" size={13} />}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {present ? present[0] : followed ? `${followed}, changed` : "Choose a finish"}
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
          what="finish"
          followed={present ? null : followed}
          onSave={(name) => void save(name)}
          forgettable={own.map((one) => one.name)}
          onForget={(name) => void forget(name)}
        />
        <FinishGrid
          finishes={finishes}
          present={present?.[0]}
          own={(name) => own.some((one) => one.name === name)}
          onWear={wear}
        />
      </Popover>
    </div>
  );
}

export function Chip({ name, finish, own = false }: { name: string; finish: Finish; own?: boolean }) {
  const { r = 0, g = 0, b = 0 } = finish.base_colour ?? {};
  // A saved finish may change under its name.
  const state = own ? `?${hash(JSON.stringify(finish))}` : "";
  return (
    <Still
      address={`/api/finishes/${encodeURIComponent(name)}/chip${state}`}
      meanwhile={<i style={{ background: toHex({ r, g, b }) }} />}
    />
  );
}

export function hash(text: string): string {
  let sum = 5381;
  for (let i = 0; i < text.length; i++) sum = ((sum * 33) ^ text.charCodeAt(i)) >>> 0;
  return sum.toString(36);
}

export function describe(finish: Finish): string {
  const layers = [
    finish.clearcoat ? "clearcoat" : "",
    finish.sheen ? "sheen" : "",
    finish.anisotropy ? "brushed" : "",
    finish.transmission ? "lets light through" : "",
    finish.emission ? "glows" : "",
    finish.bump !== "none" ? finish.bump : "",
  ].filter(Boolean);
  return [finish.metallic ? "metal" : "no metal", `roughness ${finish.roughness}`, ...layers].join(", ");
}
