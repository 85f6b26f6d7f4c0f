import { Button, LinearProgress, Tooltip } from "@mui/material";
import { useState } from "react";
import { say } from "../../../parts/notices";
import { NumberField } from "../../../parts/number/NumberField";
import { api, got } from "../../../api/client";
import { useAt, useSession } from "../../document/context";
import { hasPlace, useListed } from "../../things";
import { look, useView, type Picking } from "../../view";
import { Pieces } from "./Pieces";
import { Residual } from "./Residual";
import { SunMoment } from "./SunMoment";
import { useReport, useSolve, useStill, type SolveReport } from "./usePlate";
import "./plate.css";

/** From a clip to words that stand in it, in the order of work. */
export function PlateTools() {
  const report = useReport();
  const still = useStill();
  const rig = useAt("/camera/rig");
  return (
    <>
      <Solving report={report} still={still} />
      {report && rig === "matched" && (
        <>
          <Ground report={report} />
          <Standing />
          <Catchers />
          <Daylight />
        </>
      )}
      {!report && (
        <p className="plate-next muted">
          {still ? "Find its camera" : "Solve it"} first: then ground, words and sun can be picked in the
          picture. {still ? "A still" : "A locked shot"} is matched by a rectangle, by edges, or by eye.
        </p>
      )}
    </>
  );
}

const VERDICTS = { good: "good", usable: "usable", poor: "poor" } as const;

function Solving({ report, still }: { report: SolveReport | null; still: boolean }) {
  const session = useSession();
  const { state, taken, solve, cancel, take } = useSolve();
  const focal = useView((s) => s.focal);
  const covers = (useAt("/plate/covers") as unknown[] | undefined)?.length ?? 0;
  const [leaveOut, setLeaveOut] = useState(true);
  const busy = state?.state === "waiting" || state?.state === "solving";
  const other = state?.state === "complete" && state.file !== taken;
  return (
    <section className="group" aria-label="solve">
      <h3>camera of the plate</h3>
      <div className="row">
        <NumberField
          label="focal length"
          value={focal ?? 0}
          unit={focal ? "mm" : "unknown"}
          step={0.25}
          low={0}
          high={1200}
          tells="Of a sensor 36 mm wide, if it is known; at 0 it is found out"
          onChange={(next) => look({ focal: next < 4 ? null : next })}
        />
        <span className="reset-gap" />
      </div>
      {covers > 0 && (
        <label className="look-scales">
          <input type="checkbox" checked={leaveOut} onChange={(e) => setLeaveOut(e.target.checked)} />
          leave out what covers outline
        </label>
      )}
      {busy ? (
        <div className="plate-busy" role="status">
          <span>{state.state === "waiting" ? "waiting for its turn" : state.what || "beginning"}</span>
          <LinearProgress
            variant={state.share ? "determinate" : "indeterminate"}
            value={100 * state.share}
            aria-label="How far the solve is"
          />
          <Button size="small" onClick={() => void cancel()}>
            Stop
          </Button>
        </div>
      ) : still ? null : (
        <Tooltip title="Finds points, how the camera moved, and its lens; one can go on working meanwhile">
          <Button
            variant={report ? "outlined" : "contained"}
            fullWidth
            size="small"
            onClick={() => void solve(focal, leaveOut && covers > 0)}
          >
            {report ? "Solve it again" : "Solve the plate"}
          </Button>
        </Tooltip>
      )}
      {!busy && (
        <div className="motions">
          <Pick
            what="rectangle"
            label={still ? "by a rectangle" : "or by a rectangle"}
            tells="For stills and locked shots: four corners of something on the ground whose sides you know"
          />
          <Pick
            what="edges"
            label={still ? "by edges" : "or by edges"}
            tells="For stills and locked shots: two edges that run one way, two that run another at right angles"
          />
          <Pick
            what="corners"
            label={still ? "by eye" : "or by eye"}
            tells="Drag the corners of a grid until it lies on the ground: the camera follows"
          />
        </div>
      )}
      {state?.state === "failed" && <p className="plate-fault">{state.why}</p>}
      {!busy && state && state.pieces.length > 1 && <Pieces pieces={state.pieces} />}
      {!busy && other && (
        <Button size="small" fullWidth onClick={() => void take()}>
          Take what was solved
        </Button>
      )}
      {report && (
        <div className="plate-report">
          <p>
            <strong className={`verdict ${report.verdict}`}>{VERDICTS[report.verdict]}</strong>{" "}
            <span className="muted">
              {report.kind === "still"
                ? `told by ${report.points} points; nothing moves, so nothing slides`
                : `${report.points} points, a placed thing slides by about ${report.slide.toFixed(2)} px`}
            </span>
          </p>
          {report.kind !== "still" && <Residual report={report} />}
          <ul>
            {report.words.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          {report.kind !== "still" && (
            <div className="motions">
              <Pick
                what="spot"
                label="add a point"
                tells="Click a spot: it is followed through the plate and bears the solve with the others"
              />
              <Pick
                what="points"
                label="leave points out"
                tells="Drag a box around points that are wrong: they are left out, and the camera is fitted anew"
              />
            </div>
          )}
          <p className="muted">
            as tables: <a href={`/api/shots/${session.id}/camera.csv`}>camera</a>,{" "}
            <a href={`/api/shots/${session.id}/plate/points.csv`}>points</a>
          </p>
        </div>
      )}
    </section>
  );
}

function Pick({ what, label, tells }: { what: Picking; label: string; tells: string }) {
  const picking = useView((s) => s.picking);
  return (
    <Tooltip title={tells} placement="left">
      <button
        className="motion"
        aria-pressed={picking === what}
        onClick={() => look({ picking: picking === what ? null : what, playing: false, traced: false })}
      >
        {label}
      </button>
    </Tooltip>
  );
}

function Ground({ report }: { report: SolveReport }) {
  const moves = report.kind === "moving";
  const points = useView((s) => s.points);
  return (
    <section className="group" aria-label="ground">
      <h3>ground, scale, direction</h3>
      <div className="motions">
        {moves ? (
          <>
            <Pick
              what="ground"
              label="ground by points"
              tells="Pick three points or more that lie on it; Enter takes them"
            />
            <Pick what="box" label="ground by a box" tells="Draw a box around points that lie on it" />
          </>
        ) : (
          <Pick
            what="horizon"
            label="horizon"
            tells="Pick two places on it: the ground lies level below the camera"
          />
        )}
        <Pick
          what="distance"
          label="scale"
          tells={`Pick two ${moves ? "points" : "places on the ground"} and say how far apart they are`}
        />
        <Pick
          what="direction"
          label="direction"
          tells={`Pick two ${moves ? "points along an edge" : "places along an edge on the ground"}: it runs along x then`}
        />
        <Pick what="origin" label="origin" tells="Pick the place on the ground that is 0, 0, 0" />
      </div>
      <label className="row switch-row">
        <span className="number-label">points and grid are drawn</span>
        <input type="checkbox" checked={points} onChange={(e) => look({ points: e.target.checked })} />
      </label>
    </section>
  );
}

function Catchers() {
  return (
    <section className="group" aria-label="catchers">
      <h3>what stands in the place</h3>
      <div className="motions">
        <Pick
          what="crate"
          label="add a box"
          tells="Pick four corners of a box in the plate: words pass behind it, and throw their shadow on it"
        />
        <Pick
          what="wall"
          label="add a wall"
          tells="Pick both ends of its foot and its top: it takes shadow and reflection, and words hang on it"
        />
      </div>
    </section>
  );
}

function Standing() {
  const things = useListed().filter(({ kind }) => hasPlace(kind) && kind !== "floor");
  const standing = useView((s) => s.standing) ?? things[0]?.key ?? "";
  return (
    <section className="group" aria-label="words">
      <h3>words</h3>
      <div className="row">
        <select
          className="plain-input choice-list"
          aria-label="What is to stand there"
          value={standing}
          onChange={(e) => look({ standing: e.target.value })}
        >
          {things.map(({ key, name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </div>
      <div className="motions">
        <Pick
          what="stand"
          label="stand it here"
          tells="Click the ground or a box: it stands there and turns to the camera; on a wall it hangs"
        />
        <Pick
          what="line"
          label="along a line"
          tells="Pick both ends of a line on the ground, such as a kerb: it stands along it"
        />
        <Pick
          what="far"
          label="far away"
          tells="Click towards the horizon, then say how many metres away and how wide it is in the picture"
        />
      </div>
    </section>
  );
}

function Daylight() {
  const session = useSession();
  const swaps = useView((s) => s.swaps);
  const surround = () =>
    session.offered(() =>
      got(api.POST("/api/shots/{shot}/plate/surroundings", { params: { path: { shot: session.id } } })),
    );
  const grain = () =>
    session.offered(async () => {
      const { strength, size } = await got(
        api.POST("/api/shots/{shot}/plate/grain", { params: { path: { shot: session.id } } }),
      );
      say(
        `Grain of ${strength.map((v) => v.toFixed(1)).join(", ")} codes in dark, middle and light, ${size.toFixed(1)} px wide, is laid on the words`,
      );
    });
  const filmed = () =>
    session.offered(async () => {
      const { blur, black } = await got(
        api.POST("/api/shots/{shot}/plate/filmed", { params: { path: { shot: session.id } } }),
      );
      const codes = black.map((value) => Math.round(255 * value)).join(", ");
      say(`Words are ${blur.toFixed(1)} px soft and no darker than ${codes}, as the plate is`);
    });
  return (
    <section className="group" aria-label="light">
      <h3>light of the place</h3>
      <div className="motions">
        <Pick
          what="sun"
          label="sun from a shadow"
          tells="Pick the foot of something upright, its tip, and the tip of its shadow; several are averaged"
        />
        <Pick
          what="shadow"
          label="how dark shadows are"
          tells="Stroke over some ground in light, then over the same ground in shade"
        />
        <Tooltip title="Words mirror the place: surroundings made of what this camera saw" placement="left">
          <button className="motion" onClick={() => void surround()}>
            surroundings from the plate
          </button>
        </Tooltip>
        <Tooltip title="Words get the grain of the plate, as it is measured" placement="left">
          <button className="motion" onClick={() => void grain()}>
            grain of the plate
          </button>
        </Tooltip>
        <Tooltip title="Words get the softness and the blacks of the plate, as measured" placement="left">
          <button className="motion" onClick={() => void filmed()}>
            softness and blacks
          </button>
        </Tooltip>
        <Tooltip
          title="Shows the picture and the plate alone in turn: what does not belong is seen at once"
          placement="left"
        >
          <button className="motion" aria-pressed={swaps} onClick={() => look({ swaps: !swaps })}>
            in turn with the plate
          </button>
        </Tooltip>
      </div>
      <SunMoment />
    </section>
  );
}
