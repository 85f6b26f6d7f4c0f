import { Button } from "@mui/material";
import { useState } from "react";
import { api, got, type Schemas } from "../../../api/client";
import { say, sayFault } from "../../../parts/notices";
import { useSession } from "../../document/context";

/** What lies between the cuts of a plate: each can be the plate here, or have a shot of its own. */
export function Pieces({ pieces }: { pieces: Schemas["PlatePiece"][] }) {
  const session = useSession();
  const [busy, setBusy] = useState(false);
  const params = { path: { shot: session.id } };
  async function doing(what: () => Promise<unknown>) {
    setBusy(true);
    try {
      await session.settled();
      await what();
    } catch (why) {
      sayFault(why);
    } finally {
      setBusy(false);
    }
  }
  const take = (piece: Schemas["PlatePiece"]) =>
    doing(() =>
      session.offered(() => got(api.POST("/api/shots/{shot}/plate/piece", { params, body: piece }))),
    );
  const apart = () =>
    doing(async () => {
      const made = await got(
        api.POST("/api/shots/{shot}/plate/pieces", {
          params,
          body: { pieces },
        }),
      );
      say(`${made.length} shots are in the production now, each with its piece`);
    });
  return (
    <div className="plate-pieces" role="group" aria-label="Pieces between cuts">
      {pieces.map(({ first, last }) => (
        <div key={first} className="row">
          <span className="number-label">
            {first} to {last}
          </span>
          <span className="muted">{last - first + 1} frames</span>
          <Button size="small" disabled={busy} onClick={() => void take({ first, last })}>
            Take it here
          </Button>
        </div>
      ))}
      <Button size="small" variant="outlined" fullWidth disabled={busy} onClick={() => void apart()}>
        {busy ? "Cutting …" : "A shot for each"}
      </Button>
    </div>
  );
}
