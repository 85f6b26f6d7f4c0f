import { Tooltip } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { useShot, useShotState } from "../document/context";
import { chooseDetail, look, useView, type View } from "../view";
import type { Traced } from "./useTraced";

/** Under the picture: which view this is, how far tracing is, and what deserves a warning. */
export function Gauges({ traced, showsTraced }: { traced: Traced | null; showsTraced: boolean }) {
  const shot = useShot();
  const scene = useShotState((s) => s.scene);
  const waiting = useShotState((s) => s.waiting);
  const away = useShotState((s) => s.away);
  const tracing = useView((s) => s.traced);
  const warnings: { key: string; text: string; more: string; thing: string }[] = [];
  for (const [id, facts] of Object.entries(scene?.facts.titles ?? {})) {
    const thing = shot.things?.[id];
    if (thing?.kind !== "title") continue;
    const letters = [...new Set(facts.limited.map((i) => [...(thing.words ?? "")][i]))].filter(Boolean).join(" ");
    if (letters)
      warnings.push({ key: `${id} limited`, thing: id, text: `Edge limited: ${letters}`, more: "The edge reaches further than a stroke or counter of these letters allows; it stops where they would close." });
    if (facts.borrowed)
      warnings.push({ key: `${id} borrowed`, thing: id, text: `From another typeface: ${facts.borrowed}`, more: "The title's typeface lacks these characters; they are set in one that has them." });
    if (facts.missing)
      warnings.push({ key: `${id} missing`, thing: id, text: `In no typeface here: ${facts.missing}`, more: "These characters are shown as an empty box. Bring a typeface that has them, or choose other words." });
  }
  return (
    <div className="gauges">
      <div className="switch" role="group" aria-label="View">
        <Tooltip title="Immediate, drawn by the browser: no shadows, no reflections of letters in letters">
          <button aria-pressed={!tracing} onClick={() => look({ traced: false })}>
            Live
          </button>
        </Tooltip>
        <Tooltip title="The renderer's own picture, sharpening while you look (T)">
          <button aria-pressed={tracing} onClick={() => look({ traced: true })}>
            Traced
          </button>
        </Tooltip>
      </div>
      {!tracing && <Detail />}
      {traced && (
        <span className="gauge mono" role="status" aria-label="Tracing progress">
          {traced.fault ?? (showsTraced ? (traced.samples >= traced.total ? "clean" : `${traced.samples} of ${traced.total} samples`) : "tracing …")}
          <span className="gauge-bar" style={{ "--share": showsTraced ? traced.samples / Math.max(1, traced.total) : 0 } as React.CSSProperties} />
        </span>
      )}
      {warnings.map((w) => (
        <Tooltip key={w.key} title={w.more}>
          <button className="gauge warning" onClick={() => look({ pointed: { thing: w.thing } })}>
            <Icon name="warn" size={15} />
            {w.text}
          </button>
        </Tooltip>
      ))}
      <span className="grow" />
      <span className="gauge muted" role="status" aria-label="Saved">
        {away ? "Dreizack does not answer; your changes are kept and sent again" : waiting ? "saving …" : "saved"}
      </span>
    </div>
  );
}

const DETAILS: Record<View["detail"], string> = {
  automatic: "automatic", fine: "fine", plain: "plain edges", quick: "quick",
};

/** How finely the live view is drawn; the traced view and deliveries do not depend on it. */
function Detail() {
  const detail = useView((s) => s.detail);
  return (
    <Tooltip title="How finely the browser draws. Automatic: finely at rest, and while something moves as finely as keeps up.">
      <label className="gauge muted">
        detail
        <select className="gauge-choice" value={detail} onChange={(e) => chooseDetail(e.target.value as View["detail"])}>
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
