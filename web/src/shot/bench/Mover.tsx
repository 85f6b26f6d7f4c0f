import { Autocomplete, Button, IconButton, TextField, Tooltip } from "@mui/material";
import { useMemo, useState } from "react";
import { useVocabulary, type ValueInfo } from "../../api/queries";
import { Icon } from "../../parts/Icon";
import { useAt, useSession, useShotState } from "../document/context";
import { escaped } from "../document/pointer";
import { useListed } from "../things";
import { ValueRow } from "./Groups";

interface MoverState {
  open: boolean;
  /** Whether it drifts or follows another value. */
  moves: boolean;
  toggle: () => void;
}

export function useMover(at: string): MoverState {
  const [open, setOpen] = useState(false);
  const moves = useShotState(
    ({ shot }) => shot?.drifts?.[at] !== undefined || shot?.couplings?.[at] !== undefined,
  );
  return { open, moves, toggle: () => setOpen(!open) };
}

/** Opens what moves a value besides its keys. */
export function MoverButton({ label, open, moves, toggle }: MoverState & { label: string }) {
  return (
    <Tooltip title="Let it drift, or follow another value" placement="left">
      <button
        className={`mover${moves ? " moves" : ""}`}
        aria-label={`What moves ${label}`}
        aria-expanded={open}
        onClick={toggle}
      >
        <Icon name="wave" size={13} />
      </button>
    </Tooltip>
  );
}

/** Drift and coupling of a value, below it. */
export function MoverPanel({ at, label }: { at: string; label: string }) {
  return (
    <div className="mover-panel" role="group" aria-label={`What moves ${label}`}>
      <Part part="drifts" kind="drift" at={at} begin="Let it drift" end="Stop drifting" />
      <Part
        part="couplings"
        kind="coupling"
        at={at}
        begin="Let it follow another value"
        end="Stop following"
      />
    </div>
  );
}

interface PartProps {
  part: "drifts" | "couplings";
  kind: "drift" | "coupling";
  at: string;
  begin: string;
  end: string;
}

function Part({ part, kind, at, begin, end }: PartProps) {
  const session = useSession();
  const vocabulary = useVocabulary();
  const there = useShotState(({ shot }) => shot?.[part]?.[at] !== undefined);
  const path = `/${part}/${escaped(at)}`;
  if (!there)
    return (
      <Button
        size="small"
        startIcon={<Icon name="plus" size={14} />}
        onClick={() => session.edit([{ op: "add", path, value: structuredClone(vocabulary?.fresh[kind]) }])}
      >
        {begin}
      </Button>
    );
  return (
    <div className="item" role="group" aria-label={kind}>
      <div className="item-head">
        <span>{kind === "drift" ? "drift" : "follows"}</span>
        <Tooltip title={end}>
          <IconButton aria-label={end} onClick={() => session.edit([{ op: "remove", path }])}>
            <Icon name="trash" size={14} />
          </IconButton>
        </Tooltip>
      </div>
      {kind === "coupling" && <SourceRow at={`${path}/source`} own={at} />}
      {(vocabulary?.values[kind] ?? []).map((info) => (
        <ValueRow key={info.pointer} info={info} at={path + info.pointer} />
      ))}
    </div>
  );
}

interface Source {
  pointer: string;
  thing: string;
  name: string;
}

/** The value that is followed, found by its name. */
function SourceRow({ at, own }: { at: string; own: string }) {
  const session = useSession();
  const value = String(useAt(at) ?? "");
  const sources = useSources(own);
  const now = sources.find(({ pointer }) => pointer === value) ?? null;
  return (
    <Autocomplete
      size="small"
      options={sources}
      value={now}
      groupBy={({ thing }) => thing}
      getOptionLabel={({ thing, name }) => `${thing}: ${name}`}
      getOptionKey={({ pointer }) => pointer}
      isOptionEqualToValue={(a, b) => a.pointer === b.pointer}
      renderOption={({ key, ...props }, { name }) => (
        <li key={key} {...props}>
          {name}
        </li>
      )}
      onChange={(_, next) => session.edit([{ op: "replace", path: at, value: next?.pointer ?? "" }])}
      renderInput={(params) => (
        <TextField {...params} placeholder="Which value?" aria-label="The value that is followed" />
      )}
    />
  );
}

function useSources(own: string): Source[] {
  const things = useListed();
  const values = useVocabulary()?.values;
  const sets = useShotState(({ shot }) =>
    Object.entries(shot?.things ?? {})
      .map(
        ([id, thing]) => `${id} ${thing.kind === "title" || thing.kind === "mark" ? thing.sets!.length : 0}`,
      )
      .join(),
  );
  return useMemo(() => {
    const of = (infos: ValueInfo[] | undefined, base: string, thing: string, before = ""): Source[] =>
      (infos ?? [])
        .filter(({ kind, keyable }) => kind === "number" && keyable)
        .map(({ pointer, group, label }) => ({
          pointer: base + pointer,
          thing,
          name: [before, group, label].filter(Boolean).join(" · "),
        }));
    const counts = new Map(sets.split(",").map((one) => one.split(" ") as [string, string]));
    const heard = things
      .filter(({ kind }) => kind === "sound")
      .flatMap(({ at, name }) =>
        ["level", "low", "middle", "high"].map((band) => ({
          pointer: `${at}/heard/${band}`,
          thing: name,
          name: `heard · ${band}`,
        })),
      );
    return things
      .flatMap((thing) => [
        ...of(values?.[thing.kind], thing.at, thing.name),
        ...Array.from({ length: Number(counts.get(thing.key) ?? 0) }, (_, i) =>
          of(values?.set, `${thing.at}/sets/${i}`, thing.name, `set ${i + 1}`),
        ).flat(),
      ])
      .concat(heard)
      .filter(({ pointer }) => pointer !== own);
  }, [things, values, sets, own]);
}
