import { Button, IconButton, Popover, Tooltip } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, gotBytes, type Schemas } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { sayFault } from "../../parts/notices";
import { useSession } from "../document/context";
import { look, useView } from "../view";

type Take = Schemas["Take"];

/** Takes of the shot, and what is done with them one at a time; `busy` names the one. */
function useTakes(open: boolean, done: () => void) {
  const session = useSession();
  const queries = useQueryClient();
  const [busy, setBusy] = useState("");
  const shot = session.id;
  const { data: takes = [] } = useQuery({
    queryKey: ["takes", shot],
    queryFn: () => got(api.GET("/api/shots/{shot}/takes", { params: { path: { shot } } })),
    enabled: open,
  });
  const again = () => queries.invalidateQueries({ queryKey: ["takes", shot] });
  const at = (take: string) => ({ params: { path: { shot, name: take } } });

  // Buttons are not disabled meanwhile: that would lose the keyboard's place.
  async function run(what: string, work: () => Promise<unknown>) {
    if (busy) return;
    setBusy(what);
    try {
      await work();
    } catch (why) {
      sayFault(why, what);
    } finally {
      setBusy("");
    }
  }
  const save = (name: string) =>
    run("save", async () => {
      await session.settled();
      await got(api.PUT("/api/shots/{shot}/takes/{name}", at(name.trim() || freshName(takes))));
      await again();
    });
  const compare = (take: string) =>
    run(take, async () => {
      const { frame, tracedSize, wipe } = useView.getState();
      const [width, height] = tracedSize ?? [960, 540];
      const bytes = await gotBytes(
        `/api/shots/${shot}/takes/${encodeURIComponent(take)}/picture?frame=${frame}&width=${width}&height=${height}`,
      );
      if (wipe?.kept && wipe.name !== "before") URL.revokeObjectURL(wipe.kept);
      const kept = URL.createObjectURL(new Blob([bytes], { type: "image/jpeg" }));
      look({ wipe: { at: wipe?.at ?? 0.5, kept, name: take } });
      done();
    });
  const recall = (take: string) =>
    run(take, async () => {
      await session.settled();
      await got(api.POST("/api/shots/{shot}/takes/{name}/recall", at(take)));
      done();
    });
  const forget = (take: string) =>
    run(take, async () => {
      await got(api.DELETE("/api/shots/{shot}/takes/{name}", at(take)));
      await again();
    });
  return { takes, busy, save, compare, recall, forget };
}

/**
 * Saved states of the shot: to save, compare with, go back to, forget; `keep` holds on to the traced
 * picture shown now.
 */
export function Takes({ keep }: { keep?: () => Promise<void> }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [name, setName] = useState("");
  const { takes, busy, compare, recall, forget, ...made } = useTakes(anchor !== null, () => setAnchor(null));
  const save = () => made.save(name).then(() => setName(""));

  return (
    <>
      <Tooltip title="Saves the shot as it is under a name; compare with it, or go back to it">
        <button className="gauge plain" aria-haspopup="dialog" onClick={(e) => setAnchor(e.currentTarget)}>
          takes
        </button>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "top", horizontal: "left" }}
        transformOrigin={{ vertical: "bottom", horizontal: "left" }}
        transitionDuration={0}
      >
        <div className="takes" role="dialog" aria-label="Takes">
          <div className="row">
            <input
              className="plain-input"
              aria-label="Name of the take"
              autoFocus
              placeholder={freshName(takes)}
              maxLength={60}
              value={name}
              onChange={(e) => setName(e.target.value)}
              onKeyDown={(e) => e.key === "Enter" && void save()}
            />
            <Button size="small" variant="outlined" onClick={() => void save()}>
              Save take
            </Button>
          </div>
          <Button
            size="small"
            fullWidth
            disabled={!keep}
            onClick={() => {
              void keep?.();
              setAnchor(null);
            }}
          >
            Keep this picture, to compare with what follows
          </Button>
          {!takes.length && (
            <p className="hint">
              No take yet. A take keeps the shot as it is now; undo and edits leave it alone.
            </p>
          )}
          {takes.map((take) => (
            <div className="row" key={take.name}>
              <span className="takes-name">{take.name}</span>
              <Button size="small" onClick={() => void compare(take.name)}>
                {busy === take.name ? "Tracing …" : "Compare"}
              </Button>
              <Button size="small" onClick={() => void recall(take.name)}>
                Go back
              </Button>
              <Tooltip title="Forget this take">
                <IconButton
                  size="small"
                  aria-label={`Forget ${take.name}`}
                  onClick={() => void forget(take.name)}
                >
                  <Icon name="trash" size={14} />
                </IconButton>
              </Tooltip>
            </div>
          ))}
        </div>
      </Popover>
    </>
  );
}

function freshName(takes: Take[]): string {
  let number = takes.length + 1;
  while (takes.some((take) => take.name === `Take ${number}`)) number += 1;
  return `Take ${number}`;
}
