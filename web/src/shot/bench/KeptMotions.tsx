import { useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { api, bringFile, got } from "../../api/client";
import { useKeptMotions } from "../../api/queries";
import { say, sayFault } from "../../parts/notices";
import { useSession } from "../document/context";
import type { Listed } from "../things";
import { KeepRow } from "./KeepRow";

/** Movements of one's own: kept under a name, put on other things, exchanged as files. */
export function KeptMotions({ thing }: { thing: Listed }) {
  const session = useSession();
  const client = useQueryClient();
  const names = useKeptMotions().map(({ name }) => name);
  const file = useRef<HTMLInputElement>(null);
  const listed = () => client.invalidateQueries({ queryKey: ["kept motions"] });

  const put = (name: string) =>
    session.offered(async () => {
      const { lost } = await got(
        api.POST("/api/shots/{shot}/motions/kept", {
          params: { path: { shot: session.id } },
          body: { name, thing: thing.key },
        }),
      );
      if (lost.length) say(`Some of it found no place here: ${lost.slice(0, 4).join(", ")}`);
    });
  async function keep(name: string) {
    await session.offered(() =>
      got(
        api.PUT("/api/library/motions/{name}", {
          params: { path: { name } },
          body: { shot: session.id, thing: thing.key },
        }),
      ),
    );
    await listed();
  }
  async function forget(name: string) {
    await session.offered(() =>
      got(api.DELETE("/api/library/motions/{name}", { params: { path: { name } } })),
    );
    await listed();
  }
  async function bring(files: FileList | null) {
    for (const one of files ?? [])
      await bringFile("/api/library/motions", one).catch((why: unknown) => sayFault(why, one.name));
    await listed();
  }
  return (
    <div className="motions" role="group" aria-label="your own">
      <span className="muted small">your own</span>
      {names.map((name) => (
        <span key={name} className="kept-motion">
          <button className="motion" onClick={() => void put(name)}>
            {name}
          </button>
          <a href={`/api/library/motions/${encodeURIComponent(name)}/file`} title="Save it as a file">
            file
          </a>
        </span>
      ))}
      <button className="motion" onClick={() => file.current?.click()}>
        bring a file …
      </button>
      <input
        ref={file}
        type="file"
        hidden
        multiple
        accept=".json"
        aria-label="File of a movement"
        onChange={(e) => void bring(e.target.files).then(() => (e.target.value = ""))}
      />
      <KeepRow
        what="movement"
        followed={null}
        onSave={(name) => void keep(name)}
        forgettable={names}
        onForget={(name) => void forget(name)}
      />
    </div>
  );
}
