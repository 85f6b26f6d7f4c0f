import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, got, type Schemas } from "./client";
import { listen } from "./live";

export type Vocabulary = Schemas["Vocabulary"];
export type Delivery = Schemas["Delivery"];

/** One value of the document as the interface needs it. */
export interface ValueInfo {
  pointer: string;
  kind: "number" | "colour" | "choice" | "switch" | "text" | "list";
  group: string;
  label: string;
  tells: string;
  keyable: boolean;
  default: unknown;
  unit?: string;
  step?: number;
  low?: number;
  high?: number;
  choices?: string[];
  /** Value beside it on which it hangs. */
  when?: string;
  /** Conditions, by pointer below the thing, under which it means anything. */
  needs?: string[];
  /** Which unit goes with which choice of another value beside it. */
  units?: Record<string, Record<string, string>>;
  /** Of a list: kind of its items, and how many there may be. */
  item?: string;
  most?: number;
}

export function useVocabulary(): Vocabulary | undefined {
  return useQuery({
    queryKey: ["vocabulary"],
    queryFn: () => got(api.GET("/api/vocabulary")),
    staleTime: Infinity,
  }).data;
}

const NO_TYPEFACES: Schemas["SturdyTypeface"][] = [];

/** The typefaces with what was measured on them. */
export const useTypefaces = () =>
  useQuery({ queryKey: ["typefaces"], queryFn: () => got(api.GET("/api/typefaces")), staleTime: Infinity })
    .data ?? NO_TYPEFACES;

export const useProductions = () =>
  useQuery({ queryKey: ["productions"], queryFn: () => got(api.GET("/api/productions")) });

export const useProduction = (id: string) =>
  useQuery({
    queryKey: ["production", id],
    queryFn: () => got(api.GET("/api/productions/{production}", { params: { path: { production: id } } })),
  });

export const useDeliveries = () =>
  useQuery({ queryKey: ["deliveries"], queryFn: () => got(api.GET("/api/deliveries")) });

/** Keep lists in step with what other tabs and workers do. */
export function useNews(): void {
  const client = useQueryClient();
  useEffect(
    () =>
      listen((heard) => {
        if (heard.kind === "production") {
          void client.invalidateQueries({ queryKey: ["productions"] });
          void client.invalidateQueries({ queryKey: ["production"] });
        } else if (heard.kind === "delivery") {
          void client.invalidateQueries({ queryKey: ["deliveries"] });
        } else if (heard.kind === "shot") {
          void client.invalidateQueries({ queryKey: ["production"] });
          void client.invalidateQueries({ queryKey: ["productions"] });
        } else if (heard.kind === "connected") {
          void client.invalidateQueries();
        }
      }),
    [client],
  );
}
