import { Button, Popover } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type RefObject } from "react";
import { useLocation } from "wouter";
import { api, got } from "../api/client";
import { useFormats } from "../api/queries";
import { say, sayFault } from "../parts/notices";
import { lasting } from "../parts/when";
import { Cost } from "../parts/order/Cost";
import {
  even,
  Findings,
  PicturesToo,
  QualityRow,
  ReportLinks,
  RangeRows,
  SizeRow,
  type Quality,
} from "../parts/order/OrderParts";
import { useOpen, useSequenceSession } from "./context";
import { see, useSequenceView } from "./view";

/** One order: every format that is chosen, of every version. */
export function OrderForm({ anchor }: { anchor: RefObject<HTMLElement | null> }) {
  const ordering = useSequenceView((s) => s.ordering);
  return (
    <Popover
      open={ordering}
      anchorEl={() => anchor.current}
      onClose={() => see({ ordering: false })}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
      transformOrigin={{ vertical: "top", horizontal: "right" }}
      transitionDuration={0}
    >
      {ordering && <Form />}
    </Popover>
  );
}

const toggle = (list: string[], name: string) =>
  list.includes(name) ? list.filter((one) => one !== name) : [...list, name];

function Form() {
  const session = useSequenceSession();
  const { id, document, total } = useOpen();
  const client = useQueryClient();
  const [, go] = useLocation();
  const formats = useFormats().filter((one) => one.sequences);
  const versions = (document.versions ?? []).map((one) => one.name ?? "");
  const [chosen, setChosen] = useState<string[]>(["mp4"]);
  const [wanted, setWanted] = useState<string[]>(versions);
  const [first, setFirst] = useState(0);
  const [last, setLast] = useState(Math.max(0, total - 1));
  const [share, setShare] = useState(1);
  const [quality, setQuality] = useState<Quality>("good");
  const [busy, setBusy] = useState(false);
  // Formats share their frames, versions of different texts or shapes do not.
  const pictures = wanted.length
    ? (document.versions ?? [])
        .filter((one) => wanted.includes(one.name ?? ""))
        .map(({ width = 1920, height = 1080 }) => ({ width, height }))
    : [{ width: document.width ?? 1920, height: document.height ?? 1080 }];
  const files = chosen.length * Math.max(1, wanted.length);
  const rate = document.rate as { num: number; den: number };

  function order() {
    setBusy(true);
    session
      .settled()
      .then(() =>
        got(
          api.POST("/api/sequences/{sequence}/deliveries", {
            params: { path: { sequence: id } },
            body: { first, last, formats: chosen, versions: wanted, share, quality },
          }),
        ),
      )
      .then(() => {
        void client.invalidateQueries({ queryKey: ["deliveries"] });
        see({ ordering: false });
        say("The deliveries are ordered; they render while you go on.", {
          label: "Deliveries",
          run: () => go("/deliveries"),
        });
      })
      .catch(sayFault)
      .finally(() => setBusy(false));
  }

  return (
    <form
      className="deliver-form order-form"
      aria-label="Order deliveries"
      onSubmit={(e) => {
        e.preventDefault();
        order();
      }}
    >
      <h2>Deliver the sequence</h2>
      <div className="order-lists">
        <fieldset className="order-choices">
          <legend>formats</legend>
          {formats.map((one) => (
            <label key={one.name} title={one.tells}>
              <input
                type="checkbox"
                checked={chosen.includes(one.name)}
                onChange={() => setChosen(toggle(chosen, one.name))}
              />
              {one.label}
            </label>
          ))}
        </fieldset>
        {versions.length > 0 && (
          <fieldset className="order-choices">
            <legend>versions</legend>
            {versions.map((name) => (
              <label key={name}>
                <input
                  type="checkbox"
                  checked={wanted.includes(name)}
                  onChange={() => setWanted(toggle(wanted, name))}
                />
                {name}
              </label>
            ))}
          </fieldset>
        )}
      </div>
      <RangeRows
        {...{ first, last }}
        frames={total}
        onChange={(from, to) => {
          setFirst(from);
          setLast(to);
        }}
      />
      <SizeRow
        share={share}
        onChange={setShare}
        told={(s) => (versions.length ? `${Math.round(s * 100)} %` : sizeOf(document, s))}
      />
      <QualityRow quality={quality} onChange={setQuality} />
      <Checks versions={wanted} />
      <p className="muted">
        {files} {files === 1 ? "file" : "files"}, {last - first + 1} frames each,{" "}
        {lasting(((last - first + 1) * rate.den) / rate.num)}. A frame that several of them show is traced
        once.
      </p>
      <Cost
        of={id}
        quality={quality}
        frames={last - first + 1}
        pixels={pictures.map((one) => one.width * one.height * share * share)}
      />
      <Button type="submit" variant="contained" size="medium" fullWidth disabled={busy || !files || !total}>
        Order
      </Button>
    </form>
  );
}

const sizeOf = ({ width = 1920, height = 1080 }: { width?: number; height?: number }, share: number) =>
  `${even(width * share)} × ${even(height * share)}`;

/** What is to be looked at before it is ordered; one press goes there. */
function Checks({ versions }: { versions: string[] }) {
  const { id } = useOpen();
  const [wanted, setWanted] = useState<string | null>(null);
  const of = versions.map((one) => `versions=${encodeURIComponent(one)}`).join("&");
  const pictures = wanted === of;
  const { data, isFetching, error } = useQuery({
    queryKey: ["sequence proof", id, versions, pictures],
    queryFn: async () => {
      const at = { path: { sequence: id } };
      if (pictures)
        return got(api.POST("/api/sequences/{sequence}/proof/pictures", { params: at, body: { versions } }));
      const query = versions.length ? { versions } : {};
      const found = await got(api.GET("/api/sequences/{sequence}/proof", { params: { ...at, query } }));
      return found.map((one) => ({ ...one, shot: one.shot_name, picture: "" }));
    },
    staleTime: 0,
    retry: false,
    placeholderData: (before) => before,
  });
  if (error) sayFault(error);
  if (!data) return <p className="muted">{error ? "It could not be checked." : "Checking …"}</p>;
  return (
    <div className="order-proof">
      <Findings
        found={data.map((one) => ({ ...one, where: [one.version, one.shot].filter(Boolean).join(" · ") }))}
        onGo={(index) => {
          const { frame, version } = data[index]!;
          see({ frame, playing: false, version: version ?? "", ordering: false });
        }}
      />
      <ReportLinks at={`/api/sequences/${id}/proof/report${of && `?${of}`}`} />
      <PicturesToo looked={pictures} busy={isFetching && pictures} onLook={() => setWanted(of)} />
    </div>
  );
}
