import { useCallback, useEffect, useState } from "react";
import { api, got, Refused, type Schemas } from "../../../api/client";
import { listen } from "../../../api/live";
import { sayFault } from "../../../parts/notices";
import { useAt, useSession } from "../../document/context";

export type SolveState = Schemas["SolveState"];
export type SolveReport = Schemas["SolveReport"];

const notYet = (why: unknown) => why instanceof Refused && why.status === 404;

/** How far the latest solve of the plate is; once it is complete the shot takes it. */
export function useSolve() {
  const session = useSession();
  const clip = String(useAt("/plate/clip") ?? "");
  const taken = String(useAt("/plate/solve") ?? "");
  const [state, setState] = useState<SolveState | null>(null);
  const params = { path: { shot: session.id } };

  const look = useCallback(() => {
    got(api.GET("/api/shots/{shot}/plate/solve", { params: { path: { shot: session.id } } }))
      .then(setState)
      .catch((why: unknown) => (notYet(why) ? setState(null) : sayFault(why)));
  }, [session]);
  useEffect(() => {
    look();
    return listen((heard) => {
      if (heard.kind === "solve" || heard.kind === "connected") look();
    });
  }, [look, clip]);

  const complete = state?.state === "complete" ? state.file : null;
  // Asked for here: the shot takes what came of it without another press.
  const [asked, setAsked] = useState(false);
  useEffect(() => {
    if (!asked || !complete) return;
    setAsked(false);
    if (complete !== taken)
      void session.offered(() =>
        got(api.POST("/api/shots/{shot}/plate/solved", { params: { path: { shot: session.id } } })),
      );
  }, [asked, complete, taken, session]);

  async function solve(focalLength: number | null, leaveOut: boolean) {
    await session.settled();
    try {
      setState(
        await got(
          api.POST("/api/shots/{shot}/plate/solve", {
            params,
            body: { focal_length: focalLength, leave_out: leaveOut },
          }),
        ),
      );
      setAsked(true);
    } catch (why) {
      sayFault(why);
    }
  }
  const cancel = () =>
    got(api.POST("/api/shots/{shot}/plate/solve/cancel", { params })).then(setState).catch(sayFault);
  const take = () => session.offered(() => got(api.POST("/api/shots/{shot}/plate/solved", { params })));
  return { state, taken, solve, cancel, take };
}

/** Whether the plate is a single picture: no camera moves in it, so there is nothing to solve. */
export function useStill(): boolean {
  const clip = String(useAt("/plate/clip") ?? "");
  const [still, setStill] = useState(false);
  useEffect(() => {
    let wanted = true;
    setStill(false);
    if (clip)
      got(api.GET("/api/library/plates/{file}", { params: { path: { file: clip } } }))
        .then(({ frames }) => wanted && setStill(frames === 1))
        .catch((why: unknown) => notYet(why) || sayFault(why));
    return () => {
      wanted = false;
    };
  }, [clip]);
  return still;
}

/** What the shot's solve is worth; null without one. */
export function useReport(): SolveReport | null {
  const session = useSession();
  const taken = String(useAt("/plate/solve") ?? "");
  const [report, setReport] = useState<SolveReport | null>(null);
  useEffect(() => {
    if (!taken) {
      setReport(null);
      return;
    }
    let wanted = true;
    void session
      .settled()
      .then(() => got(api.GET("/api/shots/{shot}/plate/report", { params: { path: { shot: session.id } } })))
      .then((found) => wanted && setReport(found as SolveReport))
      .catch((why: unknown) => notYet(why) || sayFault(why));
    return () => {
      wanted = false;
    };
  }, [session, taken]);
  return report;
}
