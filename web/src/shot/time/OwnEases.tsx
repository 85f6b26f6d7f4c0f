import { IconButton, Popover, Tooltip } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, got } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { sayFault } from "../../parts/notices";
import { KeepRow } from "../bench/KeepRow";
import type { Ease } from "../document/values";
import { useKeyCommands } from "./useKeyCommands";

/** Eases of one's own: kept under a name, given to any keys. */
export function OwnEases({ present, curveOf }: { present: Ease; curveOf: (ease: Ease) => string }) {
  const client = useQueryClient();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { setEase } = useKeyCommands();
  const own =
    useQuery({ queryKey: ["own eases"], queryFn: () => got(api.GET("/api/library/eases")) }).data ?? [];
  const act = (asked: Promise<unknown>) =>
    void asked.then(() => client.invalidateQueries({ queryKey: ["own eases"] })).catch(sayFault);
  const keep = (name: string) =>
    act(got(api.PUT("/api/library/eases/{name}", { params: { path: { name } }, body: present })));
  const forget = (name: string) =>
    act(got(api.DELETE("/api/library/eases/{name}", { params: { path: { name } } })));
  return (
    <>
      <Tooltip title="Eases of your own: keep this one, or take one that was kept">
        <IconButton
          aria-label="Eases of your own"
          aria-haspopup="dialog"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <Icon name="down" size={15} />
        </IconButton>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
        transitionDuration={0}
      >
        <div className="own-eases" role="dialog" aria-label="Eases of your own">
          {own.map(({ name, ease }) => (
            <button
              key={name}
              onClick={() => {
                setEase(ease);
                setAnchor(null);
              }}
            >
              <svg width="20" height="14" viewBox="0 0 20 14" aria-hidden="true">
                <path d={curveOf(ease)} />
              </svg>
              {name}
            </button>
          ))}
          {own.length === 0 && (
            <p className="hint">None yet. Shape a key as you like it, then save its ease.</p>
          )}
          <KeepRow
            what="ease"
            followed={null}
            onSave={keep}
            forgettable={own.map(({ name }) => name)}
            onForget={forget}
          />
        </div>
      </Popover>
    </>
  );
}
