import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, type MaybeRefOrGetter, toValue } from "vue";
import { answerOf, client } from "./client";

export const useMarkets = () =>
  useQuery({ queryKey: ["markets"], queryFn: () => answerOf(client.GET("/api/markets/")) });

export const useFigures = () =>
  useQuery({ queryKey: ["figures"], queryFn: () => answerOf(client.GET("/api/figures/")) });

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
