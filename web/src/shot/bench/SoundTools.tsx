import { Button } from "@mui/material";
import { api, got } from "../../api/client";
import { Icon } from "../../parts/Icon";
import { useSession } from "../document/context";
import { pointLater } from "../view";

/** What is done with a sound as a whole. */
export function SoundTools({ id }: { id: string }) {
  const session = useSession();
  const mark = (what: "beats" | "onsets") =>
    session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/sounds/{sound}/markers", {
          params: { path: { shot: session.id, sound: id } },
          body: { what },
        }),
      ),
    );
  async function remove() {
    const pointAt = pointLater();
    const done = await session.offered(() =>
      got(
        api.POST("/api/shots/{shot}/sounds/{sound}/remove", {
          params: { path: { shot: session.id, sound: id } },
        }),
      ),
    );
    if (done) pointAt("shot");
  }
  return (
    <section className="group" aria-label="sound">
      <Button size="small" onClick={() => void mark("beats")}>
        Markers on its beats
      </Button>
      <Button size="small" onClick={() => void mark("onsets")}>
        Markers where something begins
      </Button>
      <Button size="small" startIcon={<Icon name="trash" size={14} />} onClick={() => void remove()}>
        Remove the sound
      </Button>
    </section>
  );
}
