import { Still } from "../parts/Still";

/** A traced picture of a shot. */
export function Poster({ shot, revision }: { shot: string; revision?: string | number }) {
  return (
    <Still
      address={`/api/shots/${shot}/poster`}
      version={revision}
      meanwhile={<span>Tracing the poster …</span>}
    />
  );
}
