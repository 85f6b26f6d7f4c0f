import { Button, Tooltip } from "@mui/material";
import { useState } from "react";
import { api, got } from "../../../api/client";
import { withShare } from "../../../api/live";
import { quiet, say, sayShare } from "../../../parts/notices";
import { useSession, useShotState } from "../../document/context";
import { useView } from "../../view";

/** A cover that nothing carries, or an area it lies on, is given to what is inside it, which is followed. */
export function CarryRow({ index }: { index: number }) {
  const session = useSession();
  const frame = useView((s) => s.frame);
  const carrier = useShotState((s) => {
    const { covers = [], patches = [] } = s.shot?.plate ?? {};
    const cover = covers[index];
    const patch = patches.find(({ name }) => name === cover?.carried_by);
    if (!patch) return "nothing";
    return JSON.stringify(patch.shape) === JSON.stringify(cover?.shapes?.[0]) ? "itself" : "another";
  });
  const [busy, setBusy] = useState(false);
  async function carry() {
    setBusy(true);
    await session.offered(async () => {
      const { found, frames } = await withShare(
        (share) => sayShare("What is inside is followed through the plate", share),
        (knownAs) =>
          got(
            api.POST("/api/shots/{shot}/plate/covers/{index}/carry", {
              params: { path: { shot: session.id, index }, query: { known_as: knownAs } },
              body: { frame },
            }),
          ),
      );
      quiet();
      say(
        found === frames
          ? "What is inside carries the cover through the whole plate"
          : `What is inside carries the cover through ${found} of ${frames} frames; in the others it is lost`,
      );
    });
    setBusy(false);
  }
  if (carrier === "itself") return null;
  return (
    <Tooltip title="For what moves in the picture as one flat piece; the cover goes with it" placement="left">
      <Button size="small" disabled={busy} onClick={() => void carry()}>
        {carrier === "nothing" ? "Let what is inside carry it" : "Let what is inside carry it instead"}
      </Button>
    </Tooltip>
  );
}
