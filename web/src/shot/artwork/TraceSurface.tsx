import { Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { sayFault } from "../../parts/notices";
import { NumberField } from "../../parts/number/NumberField";
import { useSession } from "../document/context";
import { look } from "../view";
import { addMark, bringPlate, traced, type PictureFile } from "./bring";

type Wish = Schemas["Tracing"];
type Traced = Schemas["Traced"];

const START: Wish = {
  by: "lightness",
  level: 0.5,
  dark: true,
  colour: [0, 0, 0],
  smooth: 1,
  speckle: 20,
  corner: 50,
};

/** The outline that tracing makes as one wishes, a moment after the last change. */
function useOutline(picture: PictureFile, wish: Wish): { made: Traced | null; fault: string | null } {
  const [made, setMade] = useState<Traced | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const latest = useRef(0);
  useEffect(() => {
    const mine = ++latest.current;
    const timer = setTimeout(() => {
      traced(picture.file, wish)
        .then((found) => {
          if (mine !== latest.current) return;
          setMade(found);
          setFault(null);
        })
        .catch(
          (why: unknown) => mine === latest.current && (setMade(null), setFault((why as Error).message)),
        );
    }, 120);
    return () => clearTimeout(timer);
  }, [picture.file, wish]);
  return { made, fault };
}

/** A picture with what tracing makes of it on top, following every change; then it becomes a mark. */
export function TraceSurface({
  picture,
  name,
  brought,
}: {
  picture: PictureFile;
  name: string;
  brought: File;
}) {
  const session = useSession();
  const [wish, setWish] = useState<Wish>(START);
  const { made, fault } = useOutline(picture, wish);
  const [hex, setHex] = useState("#000000");
  const address = `/api/library/pictures/${picture.file}`;

  /** The colour of the picture under the pointer. */
  async function pick(event: React.MouseEvent<SVGSVGElement>) {
    if (wish.by !== "colour") return;
    const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(
      event.currentTarget.getScreenCTM()!.inverse(),
    );
    const image = new Image();
    image.src = address;
    await image.decode();
    const paper = document.createElement("canvas");
    paper.width = paper.height = 1;
    const pen = paper.getContext("2d")!;
    pen.drawImage(
      image,
      -Math.floor((place.x / 100) * image.naturalWidth),
      -Math.floor((place.y / height) * image.naturalHeight),
    );
    const [r, g, b] = pen.getImageData(0, 0, 1, 1).data;
    paint([r!, g!, b!]);
  }
  function paint(codes: [number, number, number]) {
    setHex(`#${codes.map((code) => code.toString(16).padStart(2, "0")).join("")}`);
    change({ colour: codes.map((code) => code / 255) as Wish["colour"] });
  }
  const change = (part: Partial<Wish>) => setWish((now) => ({ ...now, ...part }));
  function make() {
    try {
      addMark(session, name, [{ name, path: made!.path, finish: 0 }]);
      look({ surface: null });
    } catch (why) {
      sayFault(why);
    }
  }
  const height = 100 / (picture.width / picture.height);
  const [left, top, right, bottom] = made?.box ?? [0, 0, 1, 1];
  const tall = (bottom! - top!) * height;
  return (
    <div className="surface" role="region" aria-label="Trace a picture">
      <div className="surface-paper">
        <svg
          viewBox={`0 0 100 ${height}`}
          className={wish.by === "colour" ? "picking" : undefined}
          onClick={(e) => void pick(e).catch(sayFault)}
          aria-label={made ? `Traced outline of ${made.points} points` : "Picture"}
          role="img"
        >
          <image href={address} width="100" height={height} opacity="0.55" />
          {made && (
            <path
              className="traced-outline"
              d={made.path}
              transform={`translate(${((left! + right!) / 2) * 100} ${bottom! * height}) scale(${tall} ${-tall})`}
            />
          )}
        </svg>
      </div>
      <div className="surface-tools">
        <h3>Trace {name}</h3>
        <Settings wish={wish} change={change} hex={hex} paint={paint} />
        <p className="hint mono" role="status">
          {fault ?? (made ? `${made.points} points` : "tracing …")}
        </p>
        <Button variant="contained" disabled={!made} onClick={make}>
          Make it a mark
        </Button>
        <Button
          variant="outlined"
          onClick={() => void bringPlate(session, brought).then(() => look({ surface: null }), sayFault)}
        >
          Stand words in it
        </Button>
        <Button onClick={() => look({ surface: null })}>Leave it</Button>
      </div>
    </div>
  );
}

/** What tracing goes by. */
function Settings({
  wish,
  change,
  hex,
  paint,
}: {
  wish: Wish;
  change: (part: Partial<Wish>) => void;
  hex: string;
  paint: (codes: [number, number, number]) => void;
}) {
  return (
    <>
      <div className="row">
        <span className="number-label">by</span>
        <div className="segments" role="radiogroup" aria-label="Trace by">
          {(["lightness", "alpha", "colour"] as const).map((by) => (
            <button key={by} role="radio" aria-checked={wish.by === by} onClick={() => change({ by })}>
              {by}
            </button>
          ))}
        </div>
      </div>
      {wish.by === "lightness" && (
        <label className="row switch-row">
          <span className="number-label">dark shapes</span>
          <input type="checkbox" checked={wish.dark} onChange={(e) => change({ dark: e.target.checked })} />
        </label>
      )}
      {wish.by === "colour" && (
        <label className="row">
          <span className="number-label">colour</span>
          <input
            type="color"
            value={hex}
            onChange={(e) =>
              paint(
                [1, 3, 5].map((i) => parseInt(e.target.value.slice(i, i + 2), 16)) as [
                  number,
                  number,
                  number,
                ],
              )
            }
          />
        </label>
      )}
      {wish.by === "colour" && <p className="hint">Click in the picture to take its colour there.</p>}
      <Value
        label="level"
        value={wish.level!}
        low={0.01}
        high={0.99}
        step={0.005}
        tells="Where between light and dark the border runs."
        onChange={(level) => change({ level })}
      />
      <Value
        label="smoothness"
        value={wish.smooth!}
        low={0}
        high={20}
        step={0.05}
        unit="px"
        tells="Evens out the border before it is followed."
        onChange={(smooth) => change({ smooth })}
      />
      <Value
        label="speckle"
        value={wish.speckle!}
        low={0}
        high={1e6}
        step={1}
        unit="px²"
        tells="Shapes smaller than this are left out."
        onChange={(speckle) => change({ speckle })}
      />
      <Value
        label="corner"
        value={wish.corner!}
        low={5}
        high={175}
        step={0.5}
        unit="°"
        tells="Bends sharper than this stay corners."
        onChange={(corner) => change({ corner })}
      />
    </>
  );
}

function Value(props: {
  label: string;
  value: number;
  low: number;
  high: number;
  step: number;
  unit?: string;
  tells: string;
  onChange: (value: number) => void;
}) {
  return (
    <div className="row">
      <NumberField {...props} animated={false} />
    </div>
  );
}
