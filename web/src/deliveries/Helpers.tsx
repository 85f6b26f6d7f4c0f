import { useQuery } from "@tanstack/react-query";
import { api, got } from "../api/client";

const EVERY = 4000;

/** Other machines that help with deliveries, and what each does; nothing where there are none. */
export function Helpers() {
  const { data } = useQuery({
    queryKey: ["fleet"],
    queryFn: () => got(api.GET("/api/fleet")),
    refetchInterval: EVERY,
  });
  if (!data?.machines.length) return null;
  return (
    <section className="helpers" aria-label="Machines that help">
      {data.machines.map(({ name, helps, frames, seconds, at_it }) => (
        <span key={name} className={helps ? undefined : "muted"}>
          <b>{name}</b> {helps ? (at_it ? "traces a frame" : "waits for work") : "is gone"}
          <span className="muted">
            {" "}
            {frames} frames{frames ? `, ${seconds.toFixed(1)} s each` : ""}
          </span>
        </span>
      ))}
      {data.left > 0 && <span className="muted">{data.left} frames are nobody’s yet</span>}
    </section>
  );
}
