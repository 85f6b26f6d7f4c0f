import { Tooltip } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { useShot, useShotState } from "../document/context";
import { useListed } from "../things";
import { chooseDetail, chooseView, look, SHOWS, useView, type View } from "../view";
import { GuidesMenu } from "./Guides";
import { Takes } from "./Takes";
import type { Traced } from "./useTraced";

/** Under the picture: which view this is, how far tracing is, and what deserves a warning. */
export function Gauges({ traced, showsTraced }: { traced: Traced | null; showsTraced: boolean }) {
  const shot = useShot();
  const scene = useShotState((s) => s.scene);
  const things = useListed();
  const tracing = useView((s) => s.traced);
  const warnings: Warning[] = [];
  for (const [id, facts] of Object.entries(scene?.facts.titles ?? {})) {
    const thing = shot.things?.[id];
    if (thing?.kind !== "title") continue;
    const name = things.find(({ key }) => key === id)?.name ?? "";
    const letters = [...new Set(facts.limited.map((i) => [...(thing.words ?? "")][i]))]
      .filter(Boolean)
      .join(" ");
    if (letters)
      warnings.push({
        key: `${id} limited`,
        thing: id,
        text: `Edge limited in ${name}: ${letters}`,
        more: "The edge reaches further than a stroke or counter of these letters allows; it stops where they would close.",
      });
    if (facts.borrowed)
      warnings.push({
        key: `${id} borrowed`,
        thing: id,
        text: `From another typeface in ${name}: ${facts.borrowed}`,
        more: "The title's typeface lacks these characters; they are set in one that has them.",
      });
    if (facts.missing)
      warnings.push({
        key: `${id} missing`,
        thing: id,
        text: `In ${name}, in no typeface here: ${facts.missing}`,
        more: "These characters are shown as an empty box. Bring a typeface that has them, or choose other words.",
      });
  }
  for (const file of scene?.facts.lost ?? [])
    warnings.push({
      key: `lost ${file}`,
      thing: "",
      text: `Not in the library: ${file}`,
      more: "The shot names this file, but it is not here; grey stands in its place. Bring it again where it is used.",
    });
  return (
    <div className="gauges">
      <div className="switch" role="group" aria-label="View">
        <Tooltip title="Immediate, drawn by the browser; focus and motion are blurred as soon as it rests">
          <button aria-pressed={!tracing} onClick={() => chooseView(false)}>
            Live
          </button>
        </Tooltip>
        <Tooltip title="The renderer's own picture, sharpening while you look (T)">
          <button aria-pressed={tracing} onClick={() => chooseView(true)}>
            Traced
          </button>
        </Tooltip>
      </div>
      {!tracing && <Detail />}
      {tracing && <Shown traced={traced} />}
      <GuidesMenu />
      {!tracing && <LiveGaps gaps={scene?.facts.live_gaps ?? []} />}
      {traced && (
        <span
          className="gauge mono"
          role="status"
          aria-label="Tracing progress"
          title="Samples of each pixel"
        >
          {traced.fault ??
            (showsTraced
              ? traced.samples >= traced.total
                ? "clean"
                : `${traced.samples}/${traced.total}`
              : "tracing …")}
          <span
            className="gauge-bar"
            style={
              {
                "--share": showsTraced ? traced.samples / Math.max(1, traced.total) : 0,
              } as React.CSSProperties
            }
          />
        </span>
      )}
      <Warnings warnings={warnings} />
    </div>
  );
}

interface Warning {
  key: string;
  text: string;
  more: string;
  /** The thing it is of; empty where it is of none. */
  thing: string;
}

/** Over the lower border of the pane: in the line below they would find no room. */
function Warnings({ warnings }: { warnings: Warning[] }) {
  if (!warnings.length) return null;
  return (
    <div className="warnings">
      {warnings.map((w) => (
        <Tooltip key={w.key} title={w.more}>
          <button className="gauge warning" onClick={() => w.thing && look({ pointed: { thing: w.thing } })}>
            <Icon name="warn" size={15} />
            {w.text}
          </button>
        </Tooltip>
      ))}
    </div>
  );
}

/** What only traced pictures and deliveries have. */
function LiveGaps({ gaps }: { gaps: string[] }) {
  if (!gaps.length) return null;
  const [first, ...others] = gaps;
  return (
    <Tooltip title={`Only traced pictures and deliveries have: ${gaps.join("; ")}`}>
      <button className="gauge plain muted" onClick={() => chooseView(true)}>
        without {first}
        {others.length > 0 && ` and ${others.length} ${others.length > 1 ? "others" : "other"}`}
      </button>
    </Tooltip>
  );
}

/** What of the traced picture is shown, whether it clips, and comparing. */
function Shown({ traced }: { traced: Traced | null }) {
  const show = useView((s) => s.show);
  const wipe = useView((s) => s.wipe);
  const ahead = useView((s) => s.ahead);
  const region = useView((s) => s.region);
  async function keep() {
    if (!traced?.address) return;
    // The address of the picture is given up with the next one; its data are kept.
    const kept = URL.createObjectURL(await (await fetch(traced.address)).blob());
    if (wipe?.kept && wipe.name !== "before") URL.revokeObjectURL(wipe.kept);
    look({ wipe: { at: wipe?.at ?? 0.5, kept, name: "kept" } });
  }
  return (
    <>
      <Tooltip title="The picture, where it clips, how bright it is in stops from middle grey, or what the renderer knows of each pixel">
        <select
          className="gauge-choice"
          aria-label="Shown"
          value={show}
          onChange={(e) => look({ show: e.target.value as View["show"] })}
        >
          {SHOWS.map((one) => (
            <option key={one} value={one}>
              {one}
            </option>
          ))}
        </select>
      </Tooltip>
      {show === "false colour" && (
        <span className="legend" aria-label="Stops from middle grey">
          {LEGEND.map((colour, i) => (
            <i key={i} style={{ background: `rgb(${colour.join(" ")})` }}>
              {i % 5 === 0 ? i - 5 : ""}
            </i>
          ))}
        </span>
      )}
      <Tooltip title="Only a part of the picture is traced, so much the sooner. Draw it in the picture">
        <button
          className="gauge plain"
          aria-pressed={region !== null}
          onClick={() => look({ region: region ? null : "choose" })}
        >
          region
        </button>
      </Tooltip>
      <Tooltip title="A line to drag: the live view on its left, the traced picture on its right">
        <button
          className="gauge plain"
          aria-pressed={wipe !== null}
          onClick={() => look({ wipe: wipe ? null : { at: 0.5, kept: null } })}
        >
          wipe
        </button>
      </Tooltip>
      <Tooltip title="The picture before the latest edit on the left of the line">
        <button
          className="gauge plain"
          aria-pressed={wipe?.name === "before"}
          disabled={!traced?.before}
          onClick={() =>
            look({
              wipe:
                wipe?.name === "before"
                  ? null
                  : { at: wipe?.at ?? 0.5, kept: traced!.before, name: "before" },
            })
          }
        >
          before
        </button>
      </Tooltip>
      <Takes keep={traced?.address ? keep : undefined} />
      <Tooltip title="Traces the frames that follow while nobody waits; kept ones play in the traced view">
        <button className="gauge plain" aria-pressed={ahead} onClick={() => look({ ahead: !ahead })}>
          ahead
        </button>
      </Tooltip>
      {traced && traced.clipped > 0.0005 && (
        <Tooltip title="Share of the picture in which a channel has no drawing left. Click to see where.">
          <button
            className="gauge warning"
            onClick={() => look({ show: show === "clipping" ? "picture" : "clipping" })}
          >
            {(traced.clipped * 100).toFixed(1)} % clips
          </button>
        </Tooltip>
      )}
    </>
  );
}

/** The core's scale, from five stops below middle grey to five above. */
const LEGEND = [
  [28, 18, 62],
  [38, 38, 104],
  [42, 66, 132],
  [50, 98, 140],
  [72, 128, 138],
  [122, 128, 126],
  [164, 150, 96],
  [198, 166, 76],
  [220, 150, 60],
  [228, 110, 62],
  [240, 60, 60],
];

const DETAILS: Record<View["detail"], string> = {
  automatic: "automatic",
  fine: "fine",
  plain: "plain edges",
  quick: "quick",
};

/** How finely the live view is drawn; the traced view and deliveries do not depend on it. */
function Detail() {
  const detail = useView((s) => s.detail);
  return (
    <Tooltip title="How finely the browser draws. Automatic: finely at rest, and while something moves as finely as keeps up.">
      <label className="gauge muted">
        detail
        <select
          className="gauge-choice"
          value={detail}
          onChange={(e) => chooseDetail(e.target.value as View["detail"])}
        >
          {Object.entries(DETAILS).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
    </Tooltip>
  );
}
