import { Button } from "@mui/material";
import { useLocation } from "wouter";
import { api, got, type Schemas } from "../api/client";
import { Icon } from "../parts/Icon";
import { say, sayFault } from "../parts/notices";
import { lasting } from "../parts/when";
import { Card } from "./Card";
import { rateName } from "./NewShot";
import { Poster } from "./Poster";

type SequenceCard = Schemas["SequenceCard"];

/** The sequences of a production, before its shots. */
export function Sequences({
  production,
  sequences,
  act,
}: {
  production: string;
  sequences: SequenceCard[];
  act: (asked: Promise<unknown>) => void;
}) {
  const [, go] = useLocation();
  if (!sequences.length) return null;

  function remove({ id, name }: SequenceCard) {
    const at = { params: { path: { sequence: id } } };
    act(
      got(api.DELETE("/api/sequences/{sequence}", at)).then(() =>
        say(`“${name}” was deleted.`, {
          label: "Undo",
          run: () => act(got(api.POST("/api/sequences/{sequence}/restore", at))),
        }),
      ),
    );
  }

  return (
    <div className="cards sequences" aria-label="Sequences" data-production={production}>
      {sequences.map((s) => (
        <Card
          key={s.id}
          to={`/sequences/${s.id}`}
          name={s.name}
          note={
            <>
              sequence · {s.width} × {s.height} · {rateName(s.rate as { num: number; den: number })} fps ·{" "}
              {lasting((s.total * s.rate.den!) / s.rate.num!)}
            </>
          }
          changed={s.changed}
          poster={
            <span className="strip">
              {s.line.slice(0, 4).map((shot) => (
                <span key={shot}>
                  <Poster shot={shot} small />
                </span>
              ))}
              {!s.line.length && "nothing on its line yet"}
            </span>
          }
          onRename={(name) =>
            act(
              got(
                api.POST("/api/sequences/{sequence}/edits", {
                  params: { path: { sequence: s.id } },
                  body: { base: s.revision, patch: [{ op: "replace", path: "/name", value: name }] },
                }),
              ),
            )
          }
          actions={[
            { icon: "film", label: "Open", run: () => go(`/sequences/${s.id}`) },
            {
              icon: "file",
              label: "Export as a timeline",
              run: () => location.assign(`/api/sequences/${s.id}/file?kind=otio`),
            },
            { icon: "trash", label: "Delete", run: () => remove(s) },
          ]}
        />
      ))}
    </div>
  );
}

/** One press: all shots on a line, in the size and at the rate of the first. */
export function NewSequence({ production, shots }: { production: string; shots: Schemas["ShotCard"][] }) {
  const [, go] = useLocation();
  const first = shots[0]?.format;
  return (
    <Button
      color="inherit"
      startIcon={<Icon name="film" />}
      onClick={() => {
        got(
          api.POST("/api/productions/{production}/sequences", {
            params: { path: { production } },
            body: {
              name: "Sequence",
              width: first?.width ?? 1920,
              height: first?.height ?? 1080,
              rate: first?.rate ?? { num: 25, den: 1 },
            },
          }),
        )
          .then((made) => go(`/sequences/${made.id}`))
          .catch(sayFault);
      }}
    >
      New sequence
    </Button>
  );
}
