import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, got, type Schemas } from "./client";
import { listen } from "./live";

export type Vocabulary = Schemas["Vocabulary"];
export type Delivery = Schemas["Delivery"];

/** One value of the document as the interface needs it. */
export type ValueInfo = Schemas["ValueInfo"];

/** A value that the interface makes up for itself; what it does not say is as the core has it by default. */
export const valueInfo = (
  some: Partial<ValueInfo> & Pick<ValueInfo, "pointer" | "kind" | "label">,
): ValueInfo => ({
  group: "",
  tells: "",
  keyable: false,
  unit: "",
  step: 0.01,
  low: 0,
  high: 0,
  choices: [],
  needs: [],
  units: {},
  item: "",
  thing: "",
  most: 8,
  ...some,
});

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

/** What a file of the library was called where it came from; empty where nobody knows. */
export const useBroughtName = (file: string) =>
  useQuery({
    queryKey: ["brought", file],
    queryFn: () => got(api.GET("/api/library/names/{file}", { params: { path: { file } } })),
    enabled: file !== "",
    staleTime: Infinity,
  }).data?.name ?? "";

const NO_FORMATS: Schemas["FormatInfo"][] = [];

/** What frames take here, by quality: those of a shot or sequence where some were traced. */
export const usePace = (of: string) =>
  useQuery({
    queryKey: ["deliveries", "pace", of],
    queryFn: () => got(api.GET("/api/deliveries/pace", { params: { query: { of } } })),
  }).data;

/** What deliveries can be written as. */
export const useFormats = () =>
  useQuery({ queryKey: ["formats"], queryFn: () => got(api.GET("/api/formats")), staleTime: Infinity })
    .data ?? NO_FORMATS;

const NO_MOTIONS: Schemas["MotionInfo"][] = [];

/** The ready-made movements. */
export const useMotions = () =>
  useQuery({ queryKey: ["motions"], queryFn: () => got(api.GET("/api/motions")), staleTime: Infinity })
    .data ?? NO_MOTIONS;

/** The ready-made looks of the picture. */
export const usePictureLooks = () =>
  useQuery({
    queryKey: ["picture looks"],
    queryFn: () => got(api.GET("/api/picture-looks")),
    staleTime: Infinity,
  }).data ?? NO_LOOKS;
const NO_LOOKS: Schemas["PictureLookInfo"][] = [];

/** Names of the movements people kept. */
export const useKeptMotions = () =>
  useQuery({ queryKey: ["kept motions"], queryFn: () => got(api.GET("/api/library/motions")) }).data ??
  NO_NAMES;
const NO_NAMES: { name: string }[] = [];

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
        } else if (heard.kind === "shot" || heard.kind === "sequence") {
          void client.invalidateQueries({ queryKey: ["production"] });
          void client.invalidateQueries({ queryKey: ["productions"] });
        } else if (heard.kind === "connected") {
          void client.invalidateQueries();
        }
      }),
    [client],
  );
}
