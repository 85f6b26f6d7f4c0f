import { useMemo } from "react";
import { api, got } from "../api/client";
import { useSession } from "./document/context";
import { pointLater } from "./view";

/** Things are added, and copied, by the core: it knows where one would want them, and what moves them. */
export function useAdding() {
  const session = useSession();
  return useMemo(() => {
    const add = async (wish: { kind?: string; like?: string; mirrored?: boolean }) => {
      let made = "";
      const pointAt = pointLater();
      const done = await session.offered(async () => {
        const params = { path: { shot: session.id } };
        const body = { kind: "", like: "", mirrored: false, ...wish };
        made = (await got(api.POST("/api/shots/{shot}/things", { params, body }))).name;
      });
      if (done) pointAt({ thing: made });
    };
    return {
      thing: (kind: string) => add({ kind }),
      copy: (like: string, mirrored = false) => add({ like, mirrored }),
    };
  }, [session]);
}
