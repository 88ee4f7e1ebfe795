import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, type MaybeRefOrGetter, toValue } from "vue";
import { previewQueries } from "@/api/previews";
import { useKind } from "./useKind";

/** One row’s preview, of the screen’s kind; the one before stays until the next is there. */
export function usePreview(
  market: MaybeRefOrGetter<string | undefined>,
  id: MaybeRefOrGetter<string | undefined>,
) {
  const { of } = useKind();
  return useQuery(
    computed(() => ({
      ...previewQueries.of(of, toValue(market) ?? "", toValue(id) ?? ""),
      enabled: Boolean(toValue(market) && toValue(id)),
      placeholderData: keepPreviousData,
    })),
  );
}
