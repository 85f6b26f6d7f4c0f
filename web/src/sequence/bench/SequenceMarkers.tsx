import type { Schemas } from "../../api/client";
import { MarkerList } from "../../parts/markers/MarkerList";
import { Still } from "../../parts/Still";
import { useOpen, useSequenceSession, useSequenceState } from "../context";
import { WIDTH } from "../usePictures";
import { see } from "../view";

const NONE: Schemas["Marker"][] = [];

/** The markers of a sequence. */
export function SequenceMarkers() {
  const session = useSequenceSession();
  const { id, document, total } = useOpen();
  const pictures = useSequenceState((s) => s.pictures);
  const markers = document.markers ?? NONE;
  return (
    <MarkerList
      markers={markers}
      onGo={(frame) => see({ frame: Math.min(frame, Math.max(0, total - 1)), playing: false })}
      onEdit={(patch) => session.edit(patch)}
      picture={(index) => (
        <Still
          address={`/api/sequences/${id}/frame?frame=${markers[index]!.frame}&width=${WIDTH}&aside=true`}
          version={pictures}
          meanwhile="on its way …"
        />
      )}
    />
  );
}
