import { IconButton, ListItemIcon, Menu, MenuItem } from "@mui/material";
import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { Link } from "wouter";
import { useCommands, type Command } from "../parts/commands/commands";
import { Icon, type IconName } from "../parts/Icon";
import { ago } from "../parts/when";

interface Action {
  icon: IconName;
  label: string;
  run: () => void;
}

interface Props {
  to: string;
  name: string;
  note: ReactNode;
  /** When it was changed last. */
  changed: string;
  poster: ReactNode;
  actions: Action[];
  onRename: (name: string) => void;
}

/** A picture with a name under it, and what one can do with it. */
export function Card({ to, name, note, changed, poster, actions, onRename }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [renaming, setRenaming] = useState(false);
  const all: Action[] = [{ icon: "words", label: "Rename", run: () => setRenaming(true) }, ...actions];
  useMenuCommands(to, name, all);
  return (
    <article className="card" aria-label={name}>
      <Link href={to} className="poster" tabIndex={-1} aria-hidden="true">
        {poster}
      </Link>
      <div className="caption">
        <div className="words">
          {renaming ? (
            <input
              className="plain-input"
              aria-label="New name"
              autoFocus
              defaultValue={name}
              maxLength={120}
              onFocus={(e) => e.target.select()}
              onKeyDown={(e) => {
                if (e.key === "Enter") e.currentTarget.blur();
                if (e.key === "Escape") {
                  e.currentTarget.value = name;
                  setRenaming(false);
                }
              }}
              onBlur={(e) => {
                setRenaming(false);
                const next = e.target.value.trim();
                if (next && next !== name) onRename(next);
              }}
            />
          ) : (
            <Link href={to} className="name" onDoubleClick={(e) => e.preventDefault()}>
              {name}
            </Link>
          )}
          <div className="muted">{note}</div>
          <div className="muted">{ago(changed)}</div>
        </div>
        <IconButton
          aria-label={`More for ${name}`}
          aria-haspopup="menu"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <Icon name="more" />
        </IconButton>
      </div>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        {all.map((action) => (
          <MenuItem
            key={action.label}
            onClick={() => {
              setAnchor(null);
              setTimeout(action.run, 0);
            }}
          >
            <ListItemIcon>
              <Icon name={action.icon} />
            </ListItemIcon>
            {action.label}
          </MenuItem>
        ))}
      </Menu>
    </article>
  );
}

/** What a card's menu offers, found by typing, too. */
function useMenuCommands(to: string, name: string, actions: Action[]): void {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  const labels = actions.map(({ label }) => label).join("\n");
  const commands = useMemo<Command[]>(
    () =>
      labels.split("\n").map((label, k) => ({
        id: `card ${to} ${label}`,
        label,
        group: name,
        searched: true,
        run: () => latest.current[k]!.run(),
      })),
    [to, name, labels],
  );
  useCommands(commands);
}
