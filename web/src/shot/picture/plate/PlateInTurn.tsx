import { useEffect, useState } from "react";
import { useSession, useShotState } from "../../document/context";

/** Milliseconds that each of the two is seen: slower than what flashes. */
const EACH = 600;

/** The plate alone, in turn with the picture over which it lies: what differs is seen at once. */
export function PlateInTurn({ frame }: { frame: number }) {
  const session = useSession();
  const revision = useShotState((s) => s.revision);
  const [there, setThere] = useState(true);
  useEffect(() => {
    const turn = setInterval(() => setThere((now) => !now), EACH);
    return () => clearInterval(turn);
  }, []);
  return (
    <>
      <img
        className="plate-in-turn"
        style={{ visibility: there ? "visible" : "hidden" }}
        src={`/api/shots/${session.id}/plate/alone?frame=${frame}&as=${revision}`}
        alt="The plate alone"
      />
      <span className="plate-in-turn-name">{there ? "plate alone" : "with words"}</span>
    </>
  );
}
