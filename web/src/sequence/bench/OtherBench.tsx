import { Button } from "@mui/material";
import { Icon } from "../../parts/Icon";
import { useOpen, useSequenceSession } from "../context";
import { NumberField } from "../../parts/number/NumberField";
import { levelAt, levelsOf, withLevel } from "../line/levels";
import { see, useSequenceView } from "../view";
import { PieceRows } from "./PieceBench";
import { GainRow, NumberRow, SwitchRow } from "./rows";

/** Titles laid over the line. */
export function LaidBench({ lane, index }: { lane: number; index: number }) {
  const session = useSequenceSession();
  const { document, shots } = useOpen();
  const laid = document.lanes?.[lane]?.pieces?.[index];
  if (!laid?.piece) return null;
  const at = `/lanes/${lane}/pieces/${index}`;
  return (
    <>
      <header className="bench-title">
        <h2>{shots.find((one) => one.id === laid.piece!.shot)?.name ?? laid.piece.name}</h2>
        <span className="muted">over the line: only its words are seen</span>
      </header>
      <section className="group" aria-label="place">
        <NumberRow
          at={`${at}/at`}
          label="begins at"
          unit="frames"
          step={0.5}
          low={0}
          whole
          value={laid.at ?? 0}
          tells="The frame of the sequence it begins at."
        />
        <NumberRow
          at={`${at}/fade_in`}
          label="fades in"
          unit="frames"
          step={0.25}
          low={0}
          whole
          value={laid.fade_in ?? 0}
          tells="Comes up over so many frames."
        />
        <NumberRow
          at={`${at}/fade_out`}
          label="fades out"
          unit="frames"
          step={0.25}
          low={0}
          whole
          value={laid.fade_out ?? 0}
          tells="Goes over so many frames."
        />
      </section>
      <PieceRows piece={laid.piece} at={`${at}/piece`} />
      <section className="group" aria-label="lane">
        <SwitchRow
          at={`/lanes/${lane}/on`}
          label="this lane is seen"
          value={document.lanes![lane]!.on !== false}
        />
        <Button
          size="small"
          startIcon={<Icon name="trash" size={14} />}
          onClick={() => {
            const alone = document.lanes![lane]!.pieces!.length === 1;
            session.edit([{ op: "remove", path: alone ? `/lanes/${lane}` : at }]);
            see({ chosen: null });
          }}
        >
          Take it off the lane
        </Button>
      </section>
    </>
  );
}

/** A sound of the sequence. */
export function SoundBench({ id }: { id: string }) {
  const session = useSequenceSession();
  const { document } = useOpen();
  const sound = document.sounds?.[id];
  if (!sound) return null;
  const at = `/sounds/${id}`;
  return (
    <>
      <header className="bench-title">
        <h2>{sound.name}</h2>
      </header>
      <section className="group" aria-label="sound">
        <SwitchRow at={`${at}/on`} label="heard" value={sound.on !== false} />
        <NumberRow
          at={`${at}/start`}
          label="begins at"
          unit="frames"
          step={0.5}
          value={sound.start ?? 0}
          tells="The frame of the sequence it begins at."
        />
        <NumberRow
          at={`${at}/skip`}
          label="from"
          unit="s"
          step={0.02}
          low={0}
          value={sound.skip ?? 0}
          tells="So far into the sound it begins."
        />
        <GainRow at={`${at}/gain`} value={sound.gain ?? 0} of="it" />
        <LevelRow id={id} />
        <NumberRow
          at={`${at}/fade_in`}
          label="fade in"
          unit="frames"
          step={0.5}
          low={0}
          value={sound.fade_in ?? 0}
          tells="Comes up over so many frames."
        />
        <NumberRow
          at={`${at}/fade_out`}
          label="fade out"
          unit="frames"
          step={0.5}
          low={0}
          value={sound.fade_out ?? 0}
          tells="Goes down over so many frames."
        />
        <Button
          size="small"
          startIcon={<Icon name="trash" size={14} />}
          onClick={() => {
            session.edit([{ op: "remove", path: at }]);
            see({ chosen: null });
          }}
        >
          Remove the sound
        </Button>
      </section>
    </>
  );
}

/** The level at the present frame: another value sets a level there. */
function LevelRow({ id }: { id: string }) {
  const session = useSequenceSession();
  const { document } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const sound = document.sounds![id]!;
  const levels = levelsOf(sound);
  const here = frame - (sound.start ?? 0);
  return (
    <div className="row">
      <NumberField
        label="level here"
        unit="dB"
        step={0.1}
        low={-60}
        high={12}
        value={levelAt(levels, here)}
        animated={levels.some((one) => Math.abs(one.frame - here) < 0.5)}
        tells="Besides its gain, at the present frame: another value sets a level there; between levels it goes evenly."
        onChange={(gain, gesture) =>
          here >= 0 &&
          session.edit(
            [{ op: "replace", path: `/sounds/${id}/levels`, value: withLevel(levels, here, gain) }],
            gesture,
          )
        }
      />
    </div>
  );
}
