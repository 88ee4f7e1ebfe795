import { keepPreviousData, useQueries, useQuery } from "@tanstack/vue-query";
import { computed, type ComputedRef, type MaybeRefOrGetter, toValue } from "vue";
import { answerOf, type ApiError, client, type LedgerRow, type Schemas } from "@/api/client";
import type { NichesAsk } from "@/shared/useFieldState";

/** What the ledger is asked, and the figures its rows carry besides. */
export interface LedgerAsk extends NichesAsk {
  figures?: string;
}

export type ConditionSaid = Schemas["ConditionSaid"];

export interface UseLedgerReturn {
  count: ComputedRef<number>;
  total: ComputedRef<number>;
  near: ComputedRef<number>;
  /** How many rows there are: those that pass, with the near misses where they are asked for. */
  length: ComputedRef<number>;
  conditions: ComputedRef<ConditionSaid[]>;
  ready: ComputedRef<boolean>;
  error: ComputedRef<ApiError | null>;
  retry: () => void;
  /** The row at a place, or undefined while its page is on its way. */
  rowAt: (place: number) => LedgerRow | undefined;
}

export const PAGE = 100;

const fetchPage = (ask: LedgerAsk, page: number, signal: AbortSignal) =>
  answerOf(
    client.GET("/api/ledger/", {
      params: { query: { ...ask, offset: page * PAGE, limit: PAGE } },
      signal,
    }),
  );

export const pageKey = (ask: LedgerAsk, page: number) => ["ledger", ask, page] as const;

/** The ledger by pages: the first always, others as they come into view. */
export function useLedger(
  ask: MaybeRefOrGetter<LedgerAsk>,
  inView: MaybeRefOrGetter<{ first: number; last: number }>,
): UseLedgerReturn {
  const first = useQuery({
    queryKey: computed(() => pageKey(toValue(ask), 0)),
    queryFn: ({ signal }) => fetchPage(toValue(ask), 0, signal),
    placeholderData: keepPreviousData,
  });
  const pages = computed(() => {
    const { first: from, last: to } = toValue(inView);
    const wanted = [Math.floor(from / PAGE), Math.floor(to / PAGE)];
    return [...new Set(wanted)].filter((page) => page > 0);
  });
  const others = useQueries({
    queries: computed(() =>
      pages.value.map((page) => ({
        queryKey: pageKey(toValue(ask), page),
        queryFn: ({ signal }: { signal: AbortSignal }) => fetchPage(toValue(ask), page, signal),
      })),
    ),
  });
  const byOffset = computed(() => {
    const found = new Map<number, LedgerRow[]>();
    for (const data of [first.data.value, ...others.value.map((one) => one.data)])
      if (data) found.set(data.offset / PAGE, data.rows);
    return found;
  });
  return {
    count: computed(() => first.data.value?.count ?? 0),
    total: computed(() => first.data.value?.total ?? 0),
    near: computed(() => first.data.value?.near ?? 0),
    length: computed(() => {
      const page = first.data.value;
      return (page?.count ?? 0) + (toValue(ask).near ? (page?.near ?? 0) : 0);
    }),
    conditions: computed(() => first.data.value?.conditions ?? []),
    ready: computed(() => first.data.value !== undefined),
    error: computed(() => first.error.value as ApiError | null),
    retry: () => void first.refetch(),
    rowAt: (place) => byOffset.value.get(Math.floor(place / PAGE))?.[place % PAGE],
  };
}
