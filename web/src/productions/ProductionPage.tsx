import { Button, Tooltip } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useMemo, useRef, useState, type RefObject } from "react";
import { Link, useLocation } from "wouter";
import { api, got, type Schemas } from "../api/client";
import { useProduction } from "../api/queries";
import { useCommands, type Command } from "../parts/commands/commands";
import { HiddenFile } from "../parts/HiddenFile";
import { Icon } from "../parts/Icon";
import { say, sayFault } from "../parts/notices";
import { Top } from "../parts/Top";
import { lasting } from "../parts/when";
import { Card } from "./Card";
import { Deleted } from "./Deleted";
import { useImporting } from "./useImporting";
import { NewShot, rateName } from "./NewShot";
import { Poster } from "./Poster";
import { NewSequence, Sequences } from "./Sequences";
import "./productions.css";

/** One production: its shots in order. */
export function ProductionPage({ id }: { id: string }) {
  const { data, error } = useProduction(id);
  const [adding, setAdding] = useState(false);
  const client = useQueryClient();
  const chooser = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const refresh = () => client.invalidateQueries({ queryKey: ["production", id] });
  const act = (asked: Promise<unknown>) => void asked.then(refresh).catch(sayFault);

  const commands = useMemo<Command[]>(
    () => [
      { id: "new-shot", label: "New shot", group: "Production", keys: ["N"], run: () => setAdding(true) },
      {
        id: "import",
        label: "Import a shot, a timeline or an edit list",
        group: "Production",
        run: () => chooser.current?.click(),
      },
      {
        id: "import-folder",
        label: "Import a folder: shots, and the library beside them",
        group: "Production",
        run: () => folder.current?.click(),
      },
    ],
    [],
  );
  useCommands(commands);

  const { bring, bringFolder } = useImporting(id, refresh);

  return (
    <div className="page">
      <Top>
        <span className="crumb grow">
          <Link href="/">Productions</Link> / {data?.name}
        </span>
      </Top>
      <main className="sheet">
        {error ? (
          <div className="empty">{error.message}</div>
        ) : (
          <>
            <Head
              id={id}
              production={data}
              act={act}
              chooser={chooser}
              folder={folder}
              onAdd={() => setAdding(true)}
            />
            <HiddenFile
              chooser={chooser}
              label="Shot file or timeline"
              accept=".json,application/json,.otio,.edl"
              onFile={(file) => void bring(file).catch(sayFault)}
            />
            <input
              ref={folder}
              type="file"
              hidden
              multiple
              aria-label="Folder with shots and their library"
              {...{ webkitdirectory: "" }}
              onChange={(e) => {
                const files = [...(e.target.files ?? [])];
                e.target.value = "";
                if (files.length) void bringFolder(files).catch(sayFault);
              }}
            />
            {adding && <NewShot production={id} onClose={() => setAdding(false)} />}
            {data?.shots.length === 0 && !adding && (
              <div className="empty">
                <span>
                  No shots yet. A shot is one animated scene: words with a body, light and a camera.
                </span>
                <Button variant="outlined" onClick={() => setAdding(true)}>
                  New shot
                </Button>
              </div>
            )}
            <Sequences production={id} sequences={data?.sequences ?? []} act={act} />
            <div className="cards">
              {data?.shots.map((shot) => (
                <ShotCard key={shot.id} shot={shot} act={act} />
              ))}
            </div>
            <Deleted production={id} act={act} />
          </>
        )}
      </main>
    </div>
  );
}

type Act = (asked: Promise<unknown>) => void;

/** What a production is called that nobody has named. */
export const UNTITLED = "Untitled production";

interface HeadProps {
  id: string;
  production: Schemas["ProductionPage"] | undefined;
  act: Act;
  chooser: RefObject<HTMLInputElement | null>;
  folder: RefObject<HTMLInputElement | null>;
  onAdd: () => void;
}

/** Name of the production, and what comes in or is made new. */
function Head({ id, production, act, chooser, folder, onAdd }: HeadProps) {
  return (
    <div className="head">
      <div className="grow">
        <input
          key={production?.name}
          className="plain-input heading"
          aria-label="Name of the production"
          defaultValue={production?.name}
          maxLength={120}
          // What has just been made is named first.
          autoFocus={production?.name === UNTITLED && !production.shots.length}
          onFocus={(e) => e.currentTarget.select()}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          onBlur={(e) => {
            const name = e.target.value.trim();
            if (name && name !== production?.name)
              act(
                got(
                  api.PATCH("/api/productions/{production}", {
                    params: { path: { production: id } },
                    body: { name },
                  }),
                ),
              );
            else e.target.value = production?.name ?? "";
          }}
        />
      </div>
      <Button color="inherit" startIcon={<Icon name="file" />} onClick={() => chooser.current?.click()}>
        Import a file
      </Button>
      <Tooltip title="All shots, sequences and timelines of a folder, with the files in its library">
        <Button color="inherit" onClick={() => folder.current?.click()}>
          or a folder
        </Button>
      </Tooltip>
      <Tooltip title="The whole production as one file, with everything that its shots need">
        <Button color="inherit" href={`/api/productions/${id}/archive`} download>
          Archive
        </Button>
      </Tooltip>
      <NewSequence production={id} shots={production?.shots ?? []} />
      <Button variant="contained" startIcon={<Icon name="plus" />} onClick={onAdd}>
        New shot
      </Button>
    </div>
  );
}

function ShotCard({ shot: s, act }: { shot: Schemas["ShotCard"]; act: Act }) {
  const [, go] = useLocation();
  const at = { params: { path: { shot: s.id } } };
  const remove = () =>
    act(
      got(api.DELETE("/api/shots/{shot}", at)).then(() =>
        say(`“${s.name}” was deleted.`, {
          label: "Undo",
          run: () => act(got(api.POST("/api/shots/{shot}/restore", at))),
        }),
      ),
    );
  const rename = (name: string) =>
    act(
      got(
        api.POST("/api/shots/{shot}/edits", {
          ...at,
          body: { base: s.revision, patch: [{ op: "replace", path: "/name", value: name }] },
        }),
      ),
    );
  return (
    <Card
      to={`/shots/${s.id}`}
      name={s.name}
      note={
        <>
          {s.format.width} × {s.format.height} · {rateName(s.format.rate!)} fps ·{" "}
          {lasting((s.format.frames! * s.format.rate!.den!) / s.format.rate!.num!)}
        </>
      }
      changed={s.changed}
      poster={<Poster shot={s.id} revision={s.revision} />}
      onRename={rename}
      actions={[
        { icon: "camera", label: "Open", run: () => go(`/shots/${s.id}`) },
        { icon: "copy", label: "Duplicate", run: () => act(got(api.POST("/api/shots/{shot}/copy", at))) },
        {
          icon: "file",
          label: "Export as a shot file",
          run: () => location.assign(`/api/shots/${s.id}/file`),
        },
        {
          icon: "file",
          label: "Export with its takes and all files",
          run: () => location.assign(`/api/shots/${s.id}/archive`),
        },
        {
          icon: "mesh",
          label: "Export as a 3D scene (glTF)",
          run: () => location.assign(`/api/shots/${s.id}/gltf`),
        },
        {
          icon: "mesh",
          label: "Export as a 3D scene (USD)",
          run: () => location.assign(`/api/shots/${s.id}/usd`),
        },
        { icon: "trash", label: "Delete", run: remove },
      ]}
    />
  );
}
