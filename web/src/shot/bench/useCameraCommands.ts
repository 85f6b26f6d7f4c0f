import { useMemo } from "react";
import { api, got, type Schemas } from "../../api/client";
import { sayFault } from "../../parts/notices";
import { cameraAsked, lookedThrough } from "../document/cameras";
import { useSession } from "../document/context";
import { cameraOperations, type Point } from "../document/spaces";
import { listed } from "../things";
import { point, pointLater, useView } from "../view";

type Vector = Schemas["Vector"];

/** What one asks of cameras: framing, further ones, cuts between them. */
export function useCameraCommands() {
  const session = useSession();
  return useMemo(() => {
    const shot = session.id;
    const frameTitles = () => {
      const { frame } = useView.getState();
      session
        .settled()
        .then(() =>
          got(api.POST("/api/shots/{shot}/framing", { params: { path: { shot } }, body: { frame } })),
        )
        .then((framing) => {
          const { shot: now, scene } = session.store.getState();
          if (!now || !scene) return;
          const place = ({ x = 0, y = 0, z = 0 }: Vector): Point => [x, y, z];
          const pose = { position: place(framing.position), aim: place(framing.aim) };
          session.edit(cameraOperations(now, scene, pose, frame));
        })
        .catch(sayFault);
    };
    const cutTo = (at: string, frame: number) =>
      session.offered(() =>
        got(
          api.POST("/api/shots/{shot}/cameras/cut", {
            params: { path: { shot } },
            body: { camera: cameraAsked(at), frame },
          }),
        ),
      );
    /** Looked through at once: from the present frame on, the first time from the first one. */
    const addCamera = async (like: string) => {
      let made = "";
      const pointAt = pointLater();
      const { frame } = useView.getState();
      const done = await session.offered(async () => {
        const body = { like: cameraAsked(like), frame };
        made = (await got(api.POST("/api/shots/{shot}/cameras", { params: { path: { shot } }, body }))).name;
      });
      if (done) pointAt(made as `camera:${string}`);
    };
    const removeCamera = async (at: string) => {
      const name = at.split("/")[2] ?? "";
      const pointAt = pointLater();
      const done = await session.offered(() =>
        got(api.POST("/api/shots/{shot}/cameras/{name}/remove", { params: { path: { shot, name } } })),
      );
      if (done) pointAt("camera");
    };
    /** To the camera after the one that is looked through. */
    const cutToNext = () => {
      const { frame } = useView.getState();
      const now = session.store.getState().shot;
      const cameras = now ? listed(now).filter(({ kind }) => kind === "camera") : [];
      if (cameras.length < 2) return;
      const place = cameras.findIndex(({ at }) => at === lookedThrough(now, frame));
      const next = cameras[(place + 1) % cameras.length]!;
      void cutTo(next.at, frame).then((done) => done && point(next.pointed));
    };
    return { frameTitles, cutTo, addCamera, removeCamera, cutToNext };
  }, [session]);
}
