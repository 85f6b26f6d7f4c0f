import { Button } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { useLocation } from "wouter";
import { api, bringFile, got, type Schemas } from "../api/client";
import { useProductions } from "../api/queries";
import { useCommands, type Command } from "../parts/commands/commands";
import { HiddenFile } from "../parts/HiddenFile";
import { Icon } from "../parts/Icon";
import { say, sayFault } from "../parts/notices";
import { Top } from "../parts/Top";
import { Card } from "./Card";
import { CleanUp } from "./CleanUp";
import { Deleted } from "./Deleted";
import { FindField, Found } from "./Find";
import { Poster } from "./Poster";
import { UNTITLED } from "./ProductionPage";

/** Every production, latest work first. */
export function Productions() {
  const { data, error } = useProductions();
  const client = useQueryClient();
  const [, go] = useLocation();
  const chooser = useRef<HTMLInputElement>(null);
  const [opening, setOpening] = useState(false);
  const [wanted, setWanted] = useState("");
  const refresh = () => client.invalidateQueries({ queryKey: ["productions"] });
  const act = (asked: Promise<unknown>) => void asked.then(refresh).catch(sayFault);

  const create = useCallback(() => {
    got(api.POST("/api/productions", { body: { name: UNTITLED } }))
      .then((made) => go(`/productions/${made.id}`))
      .catch(sayFault);
  }, [go]);
  const commands = useMemo<Command[]>(
    () => [{ id: "new", label: "New production", group: "Productions", keys: ["N"], run: create }],
    [create],
  );
  useCommands(commands);

  async function open(file: File) {
    setOpening(true);
    try {
      const made = (await bringFile("/api/library/productions", file)) as Schemas["ArchiveOpened"];
      await refresh();
      if (made.lost.length) say(`${file.name} lacks ${made.lost.join(", ")}; bring these files again.`);
      go(`/productions/${made.id}`);
    } catch (why) {
      sayFault(why, file.name);
    } finally {
      setOpening(false);
    }
  }

  return (
    <div className="page">
      <Top />
      <main className="sheet">
        <div className="head">
          <div>
            <h1>Productions</h1>
            <span className="muted">A production holds the shots of one job.</span>
          </div>
          <span className="grow" />
          <FindField text={wanted} onChange={setWanted} />
          <Button
            color="inherit"
            startIcon={<Icon name="file" />}
            disabled={opening}
            onClick={() => chooser.current?.click()}
          >
            {opening ? "Reading …" : "Open an archive"}
          </Button>
          <HiddenFile
            chooser={chooser}
            label="Archive of a production"
            accept=".zip"
            onFile={(file) => void open(file)}
          />
          <Button variant="contained" startIcon={<Icon name="plus" />} onClick={create}>
            New production
          </Button>
        </div>
        {error && <div className="empty">{error.message}</div>}
        {data?.length === 0 && (
          <div className="empty">
            <span>Nothing here yet. Start a production, then add its first shot.</span>
            <Button variant="outlined" onClick={create}>
              New production
            </Button>
          </div>
        )}
        {wanted.trim() ? (
          <Found text={wanted} />
        ) : (
          <>
            <div className="cards">
              {data?.map((p) => (
                <ProductionCard key={p.id} production={p} act={act} />
              ))}
            </div>
            <Deleted act={act} />
            <CleanUp />
          </>
        )}
      </main>
    </div>
  );
}

function ProductionCard({
  production: p,
  act,
}: {
  production: Schemas["ProductionCard"];
  act: (asked: Promise<unknown>) => void;
}) {
  const at = { params: { path: { production: p.id } } };
  const remove = () =>
    act(
      got(api.DELETE("/api/productions/{production}", at)).then(() =>
        say(`“${p.name}” was deleted.`, {
          label: "Undo",
          run: () => act(got(api.POST("/api/productions/{production}/restore", at))),
        }),
      ),
    );
  return (
    <Card
      to={`/productions/${p.id}`}
      name={p.name}
      note={p.shots === 1 ? "1 shot" : `${p.shots} shots`}
      changed={p.changed}
      poster={
        p.poster_shot ? <Poster shot={p.poster_shot} revision={p.changed} /> : <span>No shots yet</span>
      }
      onRename={(name) => act(got(api.PATCH("/api/productions/{production}", { ...at, body: { name } })))}
      actions={[
        {
          icon: "copy",
          label: "Duplicate",
          run: () => act(got(api.POST("/api/productions/{production}/copy", at))),
        },
        { icon: "trash", label: "Delete", run: remove },
      ]}
    />
  );
}
