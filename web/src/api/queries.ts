import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, type MaybeRefOrGetter, toValue } from "vue";
import { answerOf, client } from "./client";

export const useMarkets = () =>
  useQuery({ queryKey: ["markets"], queryFn: () => answerOf(client.GET("/api/markets/")) });

export const useFigures = () =>
  useQuery({ queryKey: ["figures"], queryFn: () => answerOf(client.GET("/api/figures/")) });

export const SIEVES = ["sieves"];
export const useSieves = () =>
  useQuery({ queryKey: SIEVES, queryFn: () => answerOf(client.GET("/api/sieves/")) });

export const saveSieves = (sieves: { name: string; conditions: string[] }[]) =>
  answerOf(client.POST("/api/sieves/", { body: sieves }));

/** An answer without content is a success all the same. */
const done = ({ error, response }: { error?: unknown; response: Response }) => ({
  data: response.ok ? true : undefined,
  error,
  response,
});

export const removeSieve = (name: string) =>
  answerOf(client.DELETE("/api/sieves/", { params: { query: { name } } }).then(done));

export const useParts = () =>
  useQuery({ queryKey: ["parts"], queryFn: () => answerOf(client.GET("/api/parts/")) });

export const LENSES = ["lenses"];
export const useLenses = () =>
  useQuery({ queryKey: LENSES, queryFn: () => answerOf(client.GET("/api/lenses/")) });

export const saveLens = (name: string, weights: Record<string, number>) =>
  answerOf(client.POST("/api/lenses/", { body: { name, weights } }));

export const removeLens = (name: string) =>
  answerOf(client.DELETE("/api/lenses/", { params: { query: { name } } }).then(done));

export const useSignals = () =>
  useQuery({ queryKey: ["signals"], queryFn: () => answerOf(client.GET("/api/signals/")) });

/** A condition as it was typed, read by the server; ApiError when it is none. */
export const readCondition = (text: string) =>
  answerOf(client.GET("/api/condition/", { params: { query: { text } } }));

/** How a figure is spread over the niches that pass some conditions. */
export function useSpread(
  market: MaybeRefOrGetter<string | undefined>,
  figure: MaybeRefOrGetter<string>,
  conditions: MaybeRefOrGetter<string[]>,
) {
  const query = computed(() => ({
    market: toValue(market),
    figure: toValue(figure),
    c: toValue(conditions),
  }));
  return useQuery({
    queryKey: ["spread", query],
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/spread/", { params: { query: query.value }, signal })),
  });
}

/** One niche close up; the one before stays until the next is there. */
export function usePreview(
  market: MaybeRefOrGetter<string | undefined>,
  niche: MaybeRefOrGetter<string | undefined>,
) {
  return useQuery({
    queryKey: ["preview", computed(() => toValue(market)), computed(() => toValue(niche))],
    enabled: computed(() => Boolean(toValue(market) && toValue(niche))),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answerOf(
        client.GET("/api/preview/", {
          params: { query: { market: toValue(market) ?? "", niche: toValue(niche) ?? "" } },
          signal,
        }),
      ),
  });
}
