import { useQuery } from "@tanstack/react-query";
import { unpack } from "./block";
import { gotBytes } from "./client";

/**
 * What is heard in a sound, so many moments a second: lowest and highest sample, level; onsets and beats in
 * seconds.
 */
export interface HeardSound {
  moments: number;
  peaks: Float32Array;
  level: Float32Array;
  onsets: number[];
  beats: number[];
}

export const useHeard = (file: string): HeardSound | undefined =>
  useQuery({
    queryKey: ["heard", file],
    enabled: file !== "",
    staleTime: Infinity,
    queryFn: async (): Promise<HeardSound> => {
      const buffer = await gotBytes(`/api/library/sounds/${file}/heard`, {});
      const { facts, arrays } = unpack<{ moments: number; onsets: number[]; beats: number[] }>(buffer);
      return {
        ...facts,
        peaks: arrays.get("peaks")!.data as Float32Array,
        level: arrays.get("level")!.data as Float32Array,
      };
    },
  }).data;
