import { useCallback } from "react";
import { api, got } from "../../api/client";
import { sayFault } from "../../parts/notices";
import { useSession } from "../document/context";
import { setValue } from "../document/values";
import { useView } from "../view";

/** What one asks of the camera. */
export function useCameraCommands() {
  const session = useSession();
  const frameTitles = useCallback(() => {
    const { frame } = useView.getState();
    session
      .settled()
      .then(() =>
        got(
          api.POST("/api/shots/{shot}/framing", { params: { path: { shot: session.id } }, body: { frame } }),
        ),
      )
      .then((framing) => {
        const shot = session.store.getState().shot!;
        const patch = (["position", "aim"] as const).flatMap((part) =>
          (["x", "y", "z"] as const).flatMap((axis) =>
            setValue(shot, `/camera/${part}/${axis}`, framing[part][axis] ?? 0, frame),
          ),
        );
        session.edit(patch);
      })
      .catch(sayFault);
  }, [session]);
  return { frameTitles };
}
