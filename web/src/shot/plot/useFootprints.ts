import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, got } from "../../api/client";
import { useSession, useShotState } from "../document/context";
import { useView } from "../view";

/** The shadow of a thing on the ground: rings of x and z, and its tip. */
export interface Footprint {
  light: string;
  thing: string;
  rings: number[][][];
  tip: number[] | null;
}

const NONE: Footprint[] = [];

/** Where shadows fall on the floor at this frame, as the core computes it; nothing new while it plays. */
export function useFootprints(): Footprint[] {
  const session = useSession();
  const revision = useShotState((s) => s.revision);
  const waiting = useShotState((s) => s.waiting > 0);
  const frame = useView((s) => s.frame);
  const playing = useView((s) => s.playing);
  const shown = useView((s) => s.shown);
  const { data } = useQuery({
    queryKey: ["footprints", session.id, revision, frame],
    queryFn: () =>
      got(
        api.GET("/api/shots/{shot}/footprints", { params: { path: { shot: session.id }, query: { frame } } }),
      ),
    enabled: shown && !playing && !waiting && revision >= 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return data ?? NONE;
}
