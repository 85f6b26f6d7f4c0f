import { api, got } from "../../api/client";
import type { ValueInfo } from "../../api/queries";
import { cameraAsked } from "../document/cameras";
import { useSession } from "../document/context";
import { useView } from "../view";
import { ChoiceRow } from "./Rows";

/** How the camera stands: the core says which angles or which place the same camera has, at its keys too. */
export function RigRow({ info, at }: { info: ValueInfo; at: string }) {
  const session = useSession();
  const put = (rig: string) =>
    session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/camera/rig", {
          params: { path: { shot: session.id } },
          body: {
            rig: rig as "free" | "orbit",
            frame: useView.getState().frame,
            camera: cameraAsked(at.replace(/\/rig$/, "")),
          },
        }),
      ),
    );
  return <ChoiceRow info={info} at={at} put={(rig) => void put(rig)} />;
}
