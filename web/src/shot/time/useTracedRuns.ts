import { useEffect, useState } from "react";
import { api, got } from "../../api/client";
import { listen } from "../../api/live";
import { useSession, useShotState } from "../document/context";
import { useView } from "../view";

const REST = 300;
const NONE: [number, number][] = [];

/** Runs of frames whose finished traced picture is kept at the size the picture has now. */
export function useTracedRuns(): [number, number][] {
  const session = useSession();
  const revision = useShotState((s) => (s.waiting ? -1 : s.revision));
  const size = useView((s) => s.tracedSize);
  const [runs, setRuns] = useState<[number, number][]>(NONE);
  const [finished, setFinished] = useState(0);

  useEffect(
    () =>
      listen(
        (heard) =>
          (heard.kind === "kept" || (heard.kind === "picture" && heard.samples >= heard.total)) &&
          setFinished((n) => n + 1),
      ),
    [],
  );
  useEffect(() => {
    if (!size || revision < 0) return;
    let stale = false;
    const timer = setTimeout(() => {
      void got(
        api.GET("/api/shots/{shot}/traced", {
          params: { path: { shot: session.id }, query: { width: size[0], height: size[1], samples: 16 } },
        }),
      )
        .then((found) => !stale && setRuns(found.runs as [number, number][]))
        // A band that is not there is no reason to interrupt anybody.
        .catch(() => !stale && setRuns(NONE));
    }, REST);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [session, revision, size, finished]);
  return runs;
}
