import { usePace } from "../../api/queries";
import { lasting } from "../when";

interface Props {
  /** The shot or sequence that is ordered. */
  of: string;
  quality: string;
  frames: number;
  /** Of each picture of a frame. */
  pixels: number[];
}

/** What an order will take, as far as it can be told; frames that are kept take none of it. */
export function Cost({ of, quality, frames, pixels }: Props) {
  const pace = usePace(of);
  const cost = pace?.costs[quality];
  if (!cost) return <p className="muted">How long it takes is told once a frame has been rendered here.</p>;
  const seconds = pixels.reduce((sum, one) => sum + cost.frame + (cost.million * one) / 1e6, 0);
  return (
    <p className="muted">
      About {lasting(frames * seconds)} on this machine, going by {pace.own ? "its own frames" : "the frames"}{" "}
      rendered lately; what is kept takes none of it.
    </p>
  );
}
