import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, type MaybeRefOrGetter, toValue } from "vue";
import { nicheQueries } from "@/api/niche";

/** One niche's preview; the one before stays until the next is there. */
export function usePreview(
  market: MaybeRefOrGetter<string | undefined>,
  niche: MaybeRefOrGetter<string | undefined>,
) {
  return useQuery(
    computed(() => ({
      ...nicheQueries.preview(toValue(market) ?? "", toValue(niche) ?? ""),
      enabled: Boolean(toValue(market) && toValue(niche)),
      placeholderData: keepPreviousData,
    })),
  );
}
