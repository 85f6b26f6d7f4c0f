import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { api, got, type Schemas } from "../api/client";
import { ago } from "../parts/when";

/** What was deleted here, each with a press that brings it back; nothing where there is none. */
export function Deleted({
  production,
  act,
}: {
  production?: string;
  act: (asked: Promise<unknown>) => void;
}) {
  const { data = [] } = useQuery({
    queryKey: production ? ["production", production, "deleted"] : ["productions", "deleted"],
    queryFn: () =>
      got(
        production
          ? api.GET("/api/productions/{production}/deleted", { params: { path: { production } } })
          : api.GET("/api/deleted"),
      ),
  });
  if (!data.length) return null;
  return (
    <details className="deleted">
      <summary>Deleted ({data.length})</summary>
      <ul>
        {data.map((one) => (
          <li key={one.id}>
            <span>{one.name}</span>
            <span className="muted">
              {one.kind} · {ago(one.deleted)}
            </span>
            <Button
              size="small"
              aria-label={`Bring back ${one.name}`}
              onClick={() => act(got(broughtBack(one)))}
            >
              Bring back
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}

function broughtBack({ kind, id }: Schemas["Deleted"]) {
  if (kind === "shot") return api.POST("/api/shots/{shot}/restore", { params: { path: { shot: id } } });
  if (kind === "sequence")
    return api.POST("/api/sequences/{sequence}/restore", { params: { path: { sequence: id } } });
  return api.POST("/api/productions/{production}/restore", { params: { path: { production: id } } });
}
