import { Button, IconButton, Tooltip } from "@mui/material";
import { useRef } from "react";
import { bringFile, named, type Schemas } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { say, sayFault } from "../../parts/notices";
import { Poster } from "../../productions/Poster";
import { rateName } from "../../productions/NewShot";
import { SOUNDS } from "../../shot/artwork/bring";
import { useOpen, useSequenceSession } from "../context";
import { see, useSequenceView } from "../view";
import { LaidBench, SoundBench } from "./OtherBench";
import { PieceBench } from "./PieceBench";
import { SequenceMarkers } from "./SequenceMarkers";
import { ChoiceRow, NumberRow } from "./rows";
import { Versions } from "./Versions";

/** What is chosen; where nothing is, the sequence itself and the shots it may take. */
export function SequenceBench() {
  const chosen = useSequenceView((s) => s.chosen);
  return (
    <aside className="bench" aria-label="Bench">
      <div className="bench-values">
        {chosen && (
          <Button
            size="small"
            color="inherit"
            startIcon={<Icon name="earlier" size={14} />}
            onClick={() => see({ chosen: null })}
          >
            The sequence
          </Button>
        )}
        {chosen?.kind === "piece" && <PieceBench index={chosen.index} />}
        {chosen?.kind === "laid" && <LaidBench lane={chosen.lane} index={chosen.index} />}
        {chosen?.kind === "sound" && <SoundBench id={chosen.id} />}
        {!chosen && <Whole />}
      </div>
    </aside>
  );
}

function Whole() {
  const { document } = useOpen();
  return (
    <>
      <Shots />
      <section className="group" aria-label="sequence">
        <h3>picture and sound</h3>
        <NumberRow
          at="/width"
          label="width"
          unit="px"
          step={2}
          low={16}
          high={8192}
          whole
          value={document.width ?? 1920}
          tells="Pixels across."
        />
        <NumberRow
          at="/height"
          label="height"
          unit="px"
          step={2}
          low={16}
          high={8192}
          whole
          value={document.height ?? 1080}
          tells="Pixels down."
        />
        <ChoiceRow
          at="/framing"
          label="other shapes"
          value={document.framing ?? "fit"}
          choices={{ fit: "show all and more", fill: "fill, cut off" }}
          tells="A picture of another shape than its shot shows all that the shot shows and more, or cuts it off."
        />
        <NumberRow
          at="/loudness"
          label="loudness"
          unit="LUFS"
          step={0.1}
          low={-40}
          high={0}
          value={document.loudness ?? 0}
          tells="What the whole mix is brought to (EBU R 128 asks for −23); 0 leaves it as it is."
        />
        <BringSound />
      </section>
      <SequenceMarkers />
      <Versions />
    </>
  );
}

/** The shots of the production: one press puts one on the line. */
function Shots() {
  const session = useSequenceSession();
  const { shots, document, total } = useOpen();
  const piece = (shot: Schemas["ShotOnLine"]) => ({
    kind: "shot",
    shot: shot.id,
    name: shot.name,
    frames: shot.format.frames ?? 50,
  });
  const whole = (shot: Schemas["ShotOnLine"]) => ({ ...EMPTY_PIECE, ...piece(shot) });
  function add(shot: Schemas["ShotOnLine"]) {
    const index = document.line!.length;
    session.edit([{ op: "add", path: "/line/-", value: whole(shot) }]);
    see({ chosen: { kind: "piece", index } });
  }
  function lay(shot: Schemas["ShotOnLine"]) {
    const at = Math.min(useSequenceView.getState().frame, Math.max(0, total));
    const laid = { at, fade_in: 0, fade_out: 0, piece: whole(shot) };
    const lanes = document.lanes ?? [];
    const lane = lanes.findIndex((one) =>
      one.pieces!.every(
        (other) =>
          (other.at ?? 0) + (other.piece?.frames ?? 0) <= at ||
          (other.at ?? 0) >= at + (shot.format.frames ?? 50),
      ),
    );
    if (lane >= 0) {
      session.edit([{ op: "add", path: `/lanes/${lane}/pieces/-`, value: laid }]);
      see({ chosen: { kind: "laid", lane, index: lanes[lane]!.pieces!.length } });
    } else {
      session.edit([{ op: "add", path: "/lanes/-", value: { name: "Titles", on: true, pieces: [laid] } }]);
      see({ chosen: { kind: "laid", lane: lanes.length, index: 0 } });
    }
  }
  return (
    <section className="group" aria-label="shots">
      <h3>shots of this production</h3>
      <div className="sequence-shots">
        {shots.map((shot) => (
          <div key={shot.id} className="sequence-shot">
            <button onClick={() => add(shot)} title="Put it on the line">
              <span className="sequence-shot-poster">
                <Poster shot={shot.id} revision={shot.revision} small />
              </span>
              <span className="sequence-shot-name">{shot.name}</span>
              <span className="mono muted">
                {shot.format.frames} · {rateName(shot.format.rate as { num: number; den: number })}
              </span>
            </button>
            <Tooltip title="Lay its words over the line, from the present frame on">
              <IconButton
                aria-label={`Lay the words of ${shot.name} over the line`}
                onClick={() => lay(shot)}
              >
                <Icon name="words" size={16} />
              </IconButton>
            </Tooltip>
          </div>
        ))}
      </div>
      <Others />
      <Button
        size="small"
        startIcon={<Icon name="plus" size={14} />}
        onClick={() => {
          session.edit([
            {
              op: "add",
              path: "/line/-",
              value: { ...EMPTY_PIECE, kind: "colour", name: "Black", frames: 25 },
            },
          ]);
          see({ chosen: { kind: "piece", index: document.line!.length } });
        }}
      >
        A second of black
      </Button>
    </section>
  );
}

/** Other sequences of the production: one press puts one on the line, as one piece. */
function Others() {
  const session = useSequenceSession();
  const { others, document } = useOpen();
  return (
    <>
      {others.map(({ id, name, total }) => (
        <Button
          key={id}
          size="small"
          startIcon={<Icon name="plus" size={14} />}
          onClick={() => {
            const value = {
              ...EMPTY_PIECE,
              kind: "sequence",
              sequence: id,
              name,
              frames: Math.max(1, total),
            };
            session.edit([{ op: "add", path: "/line/-", value }]);
            see({ chosen: { kind: "piece", index: document.line!.length } });
          }}
        >
          Sequence {name} · {total}
        </Button>
      ))}
    </>
  );
}

/** Whole, so that nothing of it has to wait for the core. */
const EMPTY_PIECE = {
  kind: "shot",
  name: "",
  shot: "",
  sequence: "",
  skip: 0,
  frames: 50,
  speed: 1,
  gains: 0,
  heard: true,
  gain: 0,
  colour: { r: 0, g: 0, b: 0 },
  transition: {
    kind: "cut",
    frames: 0,
    ease: "even",
    angle: 0,
    softness: 0.05,
    strength: 4,
    colour: { r: 0, g: 0, b: 0 },
  },
};

const EMPTY_SOUND = { on: true, start: 0, skip: 0, gain: 0, fade_in: 0, fade_out: 0, levels: [] };

function BringSound() {
  const session = useSequenceSession();
  const { document } = useOpen();
  const chooser = useRef<HTMLInputElement>(null);
  async function bring(file: File) {
    const found = await named((await bringFile("/api/library/sounds", file)) as Schemas["SoundFile"], file);
    let id = "sound";
    for (let n = 2; document.sounds?.[id]; n++) id = `sound-${n}`;
    const name = file.name.replace(/\.\w+$/, "").slice(0, 60) || "Sound";
    const start = useSequenceView.getState().frame;
    session.edit([
      {
        op: "add",
        path: `/sounds/${id}`,
        value: { ...EMPTY_SOUND, name, file: found.file, start },
      },
    ]);
    see({ chosen: { kind: "sound", id } });
    say(`${found.seconds.toFixed(2)} s of sound`);
  }
  return (
    <>
      <Button
        size="small"
        startIcon={<Icon name="sound" size={14} />}
        onClick={() => chooser.current?.click()}
      >
        Bring a sound
      </Button>
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label="Sound file"
        accept={SOUNDS.join()}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) bring(file).catch(sayFault);
        }}
      />
    </>
  );
}
