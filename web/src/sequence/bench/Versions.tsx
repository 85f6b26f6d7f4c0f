import { Button, IconButton, Tooltip } from "@mui/material";
import { useRef } from "react";
import { bringFile } from "../../api/client";
import { HiddenFile } from "../../parts/HiddenFile";
import { Icon } from "../../parts/Icon";
import { say, sayFault } from "../../parts/notices";
import { useOpen, useSequenceSession } from "../context";
import type { Sequence } from "../session";
import { see, useSequenceView } from "../view";

type Version = NonNullable<Sequence["versions"]>[number];

/** Versions of the sequence: texts and formats, from a table or made here. */
export function Versions() {
  const session = useSequenceSession();
  const { document, id } = useOpen();
  const chooser = useRef<HTMLInputElement>(null);
  const versions = document.versions ?? [];

  async function bring(file: File) {
    await session.settled();
    await bringFile(`/api/sequences/${id}/versions/table`, file);
    await session.reload();
    say(`${file.name} was read.`);
  }

  function add() {
    let name = "version 2";
    for (let n = 3; versions.some((one) => one.name === name); n++) name = `version ${n}`;
    const { width, height } = document;
    session.edit([
      { op: "add", path: "/versions/-", value: { name, width, height, words: true, texts: {}, crops: {} } },
    ]);
  }

  return (
    <section className="group" aria-label="versions">
      <h3>versions</h3>
      {versions.map((version, index) => (
        <VersionRow key={index} version={version} index={index} />
      ))}
      <div className="version-tools">
        <Button size="small" startIcon={<Icon name="plus" size={14} />} onClick={add}>
          A version
        </Button>
        <Button size="small" onClick={() => see({ sheet: true, playing: false })}>
          Contact sheet
        </Button>
        <Button size="small" href={`/api/sequences/${id}/versions/table`} download>
          Table out
        </Button>
        <Button size="small" onClick={() => chooser.current?.click()}>
          Table in
        </Button>
      </div>
      <HiddenFile
        chooser={chooser}
        label="Table of versions"
        accept=".csv,.tsv,.txt,.xlsx"
        onFile={(file) => void bring(file).catch(sayFault)}
      />
    </section>
  );
}

function VersionRow({ version, index }: { version: Version; index: number }) {
  const session = useSequenceSession();
  const { columns } = useOpen();
  const shown = useSequenceView((s) => s.version);
  const at = `/versions/${index}`;
  const set = (what: string, value: unknown) =>
    session.edit([{ op: "replace", path: `${at}/${what}`, value }]);
  return (
    <div className="version-row">
      <details className="version">
        <summary>
          <span className="version-name">{version.name}</span>
          <span className="mono muted">
            {version.width} × {version.height}
            {version.words === false && " · no words"}
          </span>
        </summary>
        <Field label="name" value={version.name ?? ""} onChange={(v) => v && set("name", v)} />
        <Field
          label="size"
          value={`${version.width}x${version.height}`}
          onChange={(v) => {
            const [, w, h] = /^\s*(\d+)\s*[x×]\s*(\d+)\s*$/.exec(v) ?? [];
            if (!w || !h) return say("Write a size like 1080x1920.");
            session.edit([
              { op: "replace", path: `${at}/width`, value: Number(w) },
              { op: "replace", path: `${at}/height`, value: Number(h) },
            ]);
          }}
        />
        <label className="row switch-row">
          <input
            type="checkbox"
            checked={version.words !== false}
            onChange={(e) => set("words", e.target.checked)}
          />
          with words
        </label>
        {version.words !== false &&
          Object.entries(columns).map(([heading, key]) => (
            <Field
              key={key}
              label={heading}
              value={version.texts?.[key] ?? ""}
              placeholder="as in the shot"
              onChange={(v) => {
                const others = Object.fromEntries(
                  Object.entries(version.texts ?? {}).filter(([name]) => name !== key),
                );
                set("texts", v ? { ...others, [key]: v } : others);
              }}
            />
          ))}
      </details>
      <span className="version-acts">
        <Tooltip title={shown === version.name ? "Show the sequence as it is" : "Look at this version"}>
          <IconButton
            aria-label={`Look at ${version.name}`}
            aria-pressed={shown === version.name}
            color={shown === version.name ? "primary" : "default"}
            onClick={() => {
              see({ version: shown === version.name ? "" : (version.name ?? "") });
            }}
          >
            <Icon name="eye" size={14} />
          </IconButton>
        </Tooltip>
        <IconButton
          aria-label={`Remove ${version.name}`}
          onClick={() => {
            if (shown === version.name) see({ version: "" });
            session.edit([{ op: "remove", path: at }]);
          }}
        >
          <Icon name="trash" size={14} />
        </IconButton>
      </span>
    </div>
  );
}

function Field({
  label,
  value,
  placeholder,
  onChange,
}: {
  label: string;
  value: string;
  placeholder?: string;
  onChange: (value: string) => void;
}) {
  return (
    <label className="version-field">
      <span className="muted">{label}</span>
      <textarea
        key={value}
        className="plain-input"
        rows={Math.max(1, value.split("\n").length)}
        defaultValue={value}
        placeholder={placeholder}
        onBlur={(e) => e.target.value !== value && onChange(e.target.value)}
      />
    </label>
  );
}
