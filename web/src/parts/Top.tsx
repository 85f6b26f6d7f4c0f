import { IconButton, Tooltip } from "@mui/material";
import type { ReactNode } from "react";
import { Link, useRoute } from "wouter";
import { useDeliveries } from "../api/queries";
import { useCommandState } from "./commands/commands";
import { Icon } from "./Icon";

/** The bar every screen has: where one is, and where else one can go. */
export function Top({ children }: { children?: ReactNode }) {
  const [atProductions] = useRoute("/");
  const [atDeliveries] = useRoute("/deliveries");
  const open =
    useDeliveries().data?.filter((d) => d.state === "waiting" || d.state === "rendering").length ?? 0;
  return (
    <header className="top">
      <Link href="/" className="home" aria-label="Dreizack: all productions">
        <img src="/mark.svg" width={22} height={22} alt="" />
        Dreizack
      </Link>
      {children}
      {!children && <span className="grow" />}
      <nav aria-label="Screens">
        <Link href="/" aria-current={atProductions ? "page" : undefined}>
          Productions
        </Link>
        <Link href="/deliveries" aria-current={atDeliveries ? "page" : undefined}>
          Deliveries{open > 0 && <span className="mono"> {open}</span>}
        </Link>
      </nav>
      <Tooltip title="Find a command (Ctrl K)">
        <IconButton aria-label="Find a command" onClick={() => useCommandState.setState({ palette: true })}>
          <Icon name="search" />
        </IconButton>
      </Tooltip>
      <Tooltip title="Shortcuts (?)">
        <IconButton aria-label="Shortcuts" onClick={() => useCommandState.setState({ overlay: true })}>
          <Icon name="help" />
        </IconButton>
      </Tooltip>
    </header>
  );
}
