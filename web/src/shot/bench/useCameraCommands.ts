import { useCallback } from "react";
import { api, got, type Schemas } from "../../api/client";
import { sayFault } from "../../parts/notices";
import { useSession } from "../document/context";
import { cameraOperations, type Point } from "../document/spaces";
import { useView } from "../view";

type Vector = Schemas["Vector"];

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
        const { shot, scene } = session.store.getState();
        if (!shot || !scene) return;
        const point = ({ x = 0, y = 0, z = 0 }: Vector): Point => [x, y, z];
        const pose = { position: point(framing.position), aim: point(framing.aim) };
        session.edit(cameraOperations(shot, scene, pose, frame));
      })
      .catch(sayFault);
  }, [session]);
  return { frameTitles };
}
