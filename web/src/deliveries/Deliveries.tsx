import { Button, IconButton, LinearProgress, Tooltip } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "wouter";
import { api, got } from "../api/client";
import { useDeliveries, useFormats, type Delivery } from "../api/queries";
import { Icon } from "../parts/Icon";
import { sayFault } from "../parts/notices";
import { Top } from "../parts/Top";
import { ago, lasting } from "../parts/when";
import { Compare } from "./Compare";
import { Helpers } from "./Helpers";
import "./deliveries.css";

/** Every render order: how far it is, what came of it. */
export function Deliveries() {
  const { data, error } = useDeliveries();
  const [chosen, setChosen] = useState<string[]>([]);
  const [rule, setRule] = useState(() => localStorage.getItem(RULE) ?? "");
  const pair = chosen.map((id) => data?.find((d) => d.id === id)).filter((d) => d !== undefined);
  const choose = (id: string) =>
    setChosen(chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen.slice(-1), id]);
  return (
    <div className="page">
      <Top />
      <main className="sheet">
        <div className="head">
          <div>
            <h1>Deliveries</h1>
            <span className="muted">
              Orders are rendered one after the other and go on by themselves after a fault.
            </span>
          </div>
          {Boolean(data?.length) && (
            <Tooltip title="Places in braces: {production} {name} {version} {size} {format} {quality} {frames} {date} {time}">
              <label className="name-rule">
                files are called
                <input
                  className="plain-input mono"
                  placeholder="{production}-{name}-{version}-{size}-{date}-{time}"
                  value={rule}
                  maxLength={160}
                  onChange={(e) => {
                    setRule(e.target.value);
                    localStorage.setItem(RULE, e.target.value);
                  }}
                />
              </label>
            </Tooltip>
          )}
        </div>
        <Helpers />
        {pair.length === 2 && (
          <Compare pair={[pair[0]!, pair[1]!]} onClose={() => setChosen([])} key={chosen.join()} />
        )}
        {error && <div className="empty">{error.message}</div>}
        {data?.length === 0 && (
          <div className="empty">
            <span>Nothing ordered yet. Open a shot and choose “Deliver”.</span>
            <Link href="/">Go to your productions</Link>
          </div>
        )}
        <div className="orders">
          {data?.map((d) => (
            <Order
              key={d.id}
              delivery={d}
              rule={rule.trim()}
              chosen={chosen.includes(d.id)}
              waited={pair.length === 1}
              onChoose={() => choose(d.id)}
            />
          ))}
        </div>
      </main>
    </div>
  );
}

/** Kept by the browser: how files are called when they are downloaded. */
const RULE = "dreizack.names";

/** Formats that a browser plays. */
const PLAYS = new Set(["mp4", "av1", "vp9-alpha"]);

const weight = (bytes: number): string =>
  bytes < 1e5 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;

const STATES: Record<Delivery["state"], string> = {
  waiting: "waiting",
  rendering: "rendering",
  paused: "resting",
  complete: "complete",
  cancelled: "cancelled",
  failed: "failed",
};

interface OrderProps {
  delivery: Delivery;
  rule: string;
  chosen: boolean;
  /** Whether another one is chosen, and waits for what it is compared with. */
  waited: boolean;
  onChoose: () => void;
}

function Order({ delivery: d, rule, chosen, waited, onChoose }: OrderProps) {
  const [playing, setPlaying] = useState(false);
  const total = d.last - d.first + 1;
  const open = isOpen(d);
  const format = useFormats().find((one) => one.name === d.format);
  const file = `/api/deliveries/${d.id}/file`;

  return (
    <article className={`order ${d.state}`} aria-label={`Delivery of ${d.name}`}>
      <div className="order-picture">
        {playing ? (
          <video src={file} controls autoPlay loop onError={() => setPlaying(false)} />
        ) : d.done > 0 ? (
          <img src={`/api/deliveries/${d.id}/picture?after=${d.done}`} alt={`Frame ${d.latest}`} />
        ) : (
          <span className="muted">{open ? "The first frame is on its way …" : "No picture"}</span>
        )}
      </div>
      <div className="order-facts">
        <div className="order-head">
          <Link href={d.sequence ? `/sequences/${d.sequence}` : `/shots/${d.shot}`} className="name">
            {d.name}
          </Link>
          {d.version && <b>{d.version}</b>}
          <span className="muted">{d.production_name}</span>
        </div>
        <div className="mono muted">
          {format?.label ?? d.format} · {d.width} × {d.height} · frames {d.first}–{d.last} · {d.quality} ·{" "}
          {ago(d.ordered)}
        </div>
        {open && (
          <LinearProgress
            aria-label="Progress"
            variant={d.done || d.state !== "rendering" ? "determinate" : "indeterminate"}
            value={(100 * d.done) / total}
            color="primary"
          />
        )}
        <div className="order-state" role="status">
          <span className={`order-word ${d.state}`}>
            {d.state === "complete" && <Icon name="check" size={16} />}
            {d.state === "failed" && <Icon name="warn" size={16} />}
            {STATES[d.state]}
          </span>
          {open && (
            <span className="mono">
              {d.done} of {total} frames
              {d.left !== null && d.left !== undefined && ` · ${lasting(d.left)} left`}
              {d.starts > 1 && " · resumed after a fault"}
            </span>
          )}
          {d.state === "complete" && (
            <span className="mono muted">
              {total} frames · {weight(d.bytes ?? 0)}
              {d.kept > 0 && ` · ${d.kept} ${d.kept === 1 ? "frame was" : "frames were"} there already`}
            </span>
          )}
          {d.why && <span>{d.why}</span>}
        </div>
      </div>
      <Actions {...{ delivery: d, rule, chosen, waited, onChoose, playing, setPlaying }} />
    </article>
  );
}

const isOpen = ({ state }: Delivery): boolean =>
  state === "waiting" || state === "rendering" || state === "paused";

interface ActionProps extends OrderProps {
  playing: boolean;
  setPlaying: (playing: boolean) => void;
}

/** What can be done with a delivery. */
function Actions({ delivery: d, rule, chosen, waited, onChoose, playing, setPlaying }: ActionProps) {
  const client = useQueryClient();
  const open = isOpen(d);
  const file = `/api/deliveries/${d.id}/file`;
  const path = { params: { path: { delivery: d.id } } };
  const act = (asked: Promise<unknown>) =>
    void asked.then(() => client.invalidateQueries({ queryKey: ["deliveries"] })).catch(sayFault);
  return (
    <div className="order-actions">
      {d.state === "complete" && (
        <>
          {PLAYS.has(d.format) && (
            <Button
              startIcon={<Icon name={playing ? "close" : "play"} />}
              onClick={() => setPlaying(!playing)}
              variant={playing ? "text" : "outlined"}
            >
              {playing ? "Close" : "Play"}
            </Button>
          )}
          <Tooltip title="Beside another one: a line to drag, or where they differ">
            <Button color="inherit" aria-pressed={chosen} onClick={onChoose}>
              {chosen ? "Chosen" : waited ? "Compare with it" : "Compare"}
            </Button>
          </Tooltip>
          <Button
            href={rule ? `${file}?rule=${encodeURIComponent(rule)}` : file}
            download
            variant="contained"
          >
            Download
          </Button>
        </>
      )}
      {d.state === "waiting" && (
        <Tooltip title="Before all others that wait">
          <Button color="inherit" onClick={() => act(got(api.POST("/api/deliveries/{delivery}/next", path)))}>
            Next
          </Button>
        </Tooltip>
      )}
      {(d.state === "waiting" || d.state === "rendering") && (
        <Button color="inherit" onClick={() => act(got(api.POST("/api/deliveries/{delivery}/pause", path)))}>
          Rest
        </Button>
      )}
      {(d.state === "paused" || d.state === "failed" || d.state === "cancelled") && (
        <Button
          variant="outlined"
          onClick={() => act(got(api.POST("/api/deliveries/{delivery}/resume", path)))}
        >
          {d.state === "paused" ? "Go on" : "Try again"}
        </Button>
      )}
      {open ? (
        <Button color="inherit" onClick={() => act(got(api.POST("/api/deliveries/{delivery}/cancel", path)))}>
          Cancel
        </Button>
      ) : (
        <Tooltip title="Take it off the list, with its file">
          <IconButton
            aria-label={`Remove the delivery of ${d.name}`}
            onClick={() => act(got(api.DELETE("/api/deliveries/{delivery}", path)))}
          >
            <Icon name="trash" size={16} />
          </IconButton>
        </Tooltip>
      )}
    </div>
  );
}
