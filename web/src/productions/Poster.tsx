import { Still } from "../parts/Still";

interface Props {
  shot: string;
  revision?: string | number;
  /** Nothing is said while it is on its way: it is too small for that. */
  small?: boolean;
}

/** A traced picture of a shot. */
export function Poster({ shot, revision, small = false }: Props) {
  return (
    <Still
      address={`/api/shots/${shot}/poster`}
      version={revision}
      meanwhile={small ? <span /> : <span>Tracing the poster …</span>}
    />
  );
}
