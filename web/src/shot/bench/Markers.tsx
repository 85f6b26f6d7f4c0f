import type { Schemas } from "../../api/client";
import { MarkerList } from "../../parts/markers/MarkerList";
import { Still } from "../../parts/Still";
import { useSession, useShotState } from "../document/context";
import { look } from "../view";

const NONE: Schemas["Marker"][] = [];

/** The markers of a shot. */
export function Markers() {
  const session = useSession();
  const markers = useShotState((s) => s.shot?.markers ?? NONE);
  const revision = useShotState((s) => s.revision);
  return (
    <MarkerList
      markers={markers}
      onGo={(frame) => look({ frame, playing: false })}
      onEdit={(patch) => session.edit(patch)}
      picture={(index) => (
        <Still
          address={`/api/shots/${session.id}/markers/${index}/picture`}
          version={`${revision} ${markers[index]!.frame}`}
          meanwhile="on its way …"
        />
      )}
    />
  );
}
