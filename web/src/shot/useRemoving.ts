import { useMemo } from "react";
import { api, got } from "../api/client";
import { useSession } from "./document/context";
import { pointLater, useView } from "./view";

/** Things and items of lists are removed by the core, with all that leads to them. */
export function useRemoving() {
  const session = useSession();
  return useMemo(() => {
    const shot = session.id;
    return {
      thing: async (thing: string) => {
        const { frame } = useView.getState();
        const pointAt = pointLater();
        const done = await session.offered(() =>
          got(
            api.POST("/api/shots/{shot}/things/{thing}/remove", {
              params: { path: { shot, thing } },
              body: { frame },
            }),
          ),
        );
        if (done) pointAt("shot");
      },
      item: (at: string, index: number) =>
        session.offered(() =>
          got(
            api.POST("/api/shots/{shot}/items/remove", { params: { path: { shot } }, body: { at, index } }),
          ),
        ),
    };
  }, [session]);
}
