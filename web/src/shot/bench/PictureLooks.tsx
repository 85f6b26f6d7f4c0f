import { Tooltip } from "@mui/material";
import { api, got } from "../../api/client";
import { usePictureLooks, useProduction } from "../../api/queries";
import { useSession, useShotState } from "../document/context";
import { fetchLookTrial } from "../document/scene";
import { look, useView } from "../view";
import { useTrial } from "./useTrial";

/** Ready-made looks of lens, film and grade: pointed at, the picture has them; pressed, the shot does. */
export function PictureLooks() {
  const session = useSession();
  const looks = usePictureLooks();
  const trial = useTrial();

  const enter = (name: string) =>
    trial.enter(() => {
      look({ traced: false });
      return fetchLookTrial(session.id, { look: name, frame: useView.getState().frame });
    });

  function give(name: string) {
    trial.leave();
    void session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/picture-looks", {
          params: { path: { shot: session.id } },
          body: { look: name, frame: 0 },
        }),
      ),
    );
  }

  return (
    <section className="group">
      <div className="motions" role="group" aria-label="Whole looks" onPointerLeave={trial.leave}>
        <span className="muted small">whole looks, bars stay</span>
        {looks.map(({ name, label, tells }) => (
          <Tooltip key={name} title={tells} placement="left" disableInteractive>
            <button
              className="motion"
              onPointerEnter={() => enter(name)}
              onFocus={(e) => e.currentTarget.matches(":focus-visible") && enter(name)}
              onBlur={trial.leave}
              onClick={() => give(name)}
            >
              {label}
            </button>
          </Tooltip>
        ))}
      </div>
      <WornLook />
    </section>
  );
}

/** Lights, surroundings, backdrop and optics of another shot of the production, for this one. */
function WornLook() {
  const session = useSession();
  const production = useShotState((s) => s.production?.id ?? "");
  const others = (useProduction(production).data?.shots ?? []).filter(({ id }) => id !== session.id);
  if (!others.length) return null;
  return (
    <Tooltip title="Its lights, surroundings, backdrop and optics, with all that moves them" placement="left">
      <label className="row">
        <span className="number-label">look as</span>
        <select
          className="plain-input choice-list"
          aria-label="Look as another shot"
          value=""
          onChange={(e) => {
            const { value } = e.target;
            void session.offered(() =>
              got(
                api.POST("/api/shots/{shot}/wear", {
                  params: { path: { shot: session.id } },
                  body: { shot: value },
                }),
              ),
            );
          }}
        >
          <option value="">another shot …</option>
          {others.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
    </Tooltip>
  );
}
