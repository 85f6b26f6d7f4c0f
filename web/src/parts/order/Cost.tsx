import { lasting } from "../when";

interface Props {
  frames: number;
  pixels: number;
  /** Seconds a million pixels took lately. */
  pace: number | undefined;
}

/** What an order will take, as far as it can be told; frames that are kept take none of it. */
export function Cost({ frames, pixels, pace }: Props) {
  if (pace === undefined)
    return <p className="muted">How long it takes is told once a frame has been rendered here.</p>;
  return (
    <p className="muted">
      About {lasting((frames * pixels * pace) / 1e6)} on this machine, going by the frames rendered lately;
      what is kept takes none of it.
    </p>
  );
}
