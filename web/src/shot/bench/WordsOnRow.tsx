import { Tooltip } from "@mui/material";
import { api, got } from "../../api/client";
import { useSession, useShotState } from "../document/context";
import { useListed } from "../things";
import { pointLater } from "../view";

/** Words put on a flat area that is followed: they turn and move with it. */
export function WordsOnRow({ index }: { index: number }) {
  const session = useSession();
  const caught = useShotState((s) =>
    Object.entries(s.shot?.things ?? {})
      .filter(([, thing]) => "visibility" in thing && thing.visibility?.catches)
      .map(([key]) => key)
      .join(),
  ).split(",");
  const words = useListed().filter(
    ({ kind, key }) => (kind === "title" || kind === "mark") && !caught.includes(key),
  );
  async function put(thing: string) {
    const pointAt = pointLater();
    const done = await session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/plate/patches/{index}/words", {
          params: { path: { shot: session.id, index } },
          body: { thing },
        }),
      ),
    );
    if (done) pointAt({ thing });
  }
  if (!words.length) return null;
  return (
    <Tooltip title="Words with a body, that turn and move with the area" placement="left">
      <label className="row">
        <span className="number-label">words on it</span>
        <select
          className="plain-input choice-list"
          aria-label="Words on it"
          value=""
          onChange={(e) => e.target.value && void put(e.target.value)}
        >
          <option value="">put …</option>
          {words.map(({ key, name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </label>
    </Tooltip>
  );
}
