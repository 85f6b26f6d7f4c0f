import { useMemo } from "react";
import { api, got } from "../../api/client";
import { useSession } from "../document/context";

/** Spans are moved by the core: keys of an arrival and a departure go along with their end. */
export function useSpans() {
  const session = useSession();
  return useMemo(
    () => ({
      put: (thing: string, start: number, end: number, ripple: boolean) =>
        session.offered(() =>
          got(
            api.POST("/api/shots/{shot}/things/{thing}/span", {
              params: { path: { shot: session.id, thing } },
              body: { start, end, ripple },
            }),
          ),
        ),
    }),
    [session],
  );
}
