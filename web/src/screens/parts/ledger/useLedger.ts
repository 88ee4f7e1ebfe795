import { keepPreviousData, useQueries, useQuery } from "@tanstack/vue-query";
import { computed, type ComputedRef, type MaybeRefOrGetter, toValue } from "vue";
import type { ApiError, LedgerRow, Schemas } from "@/api/client";
import { type LedgerQuery, ledgerQueries, PAGE } from "@/api/ledger";

export type ConditionRow = Schemas["ConditionRow"];

export interface UseLedgerReturn {
  count: ComputedRef<number>;
  total: ComputedRef<number>;
  near: ComputedRef<number>;
  /** How many rows there are: those that pass, with the near misses where they are asked for. */
  length: ComputedRef<number>;
  conditions: ComputedRef<ConditionRow[]>;
  /** Why nothing passes, where that is so. */
  blocked: ComputedRef<Schemas["BlockedRow"] | null>;
  ready: ComputedRef<boolean>;
  error: ComputedRef<ApiError | null>;
  retry: () => void;
  /** The row at a place, or undefined while its page is on its way. */
  rowAt: (place: number) => LedgerRow | undefined;
}

/** The ledger by pages: the first always, others as they come into view. */
export function useLedger(
  ask: MaybeRefOrGetter<LedgerQuery>,
  inView: MaybeRefOrGetter<{ first: number; last: number }>,
): UseLedgerReturn {
  const first = useQuery(
    computed(() => ({
      ...ledgerQueries.page(toValue(ask), 0),
      placeholderData: keepPreviousData,
    })),
  );
  const pages = computed(() => {
    const { first: from, last: to } = toValue(inView);
    const wanted = [Math.floor(from / PAGE), Math.floor(to / PAGE)];
    return [...new Set(wanted)].filter((page) => page > 0);
  });
  const others = useQueries({
    queries: computed(() => pages.value.map((page) => ledgerQueries.page(toValue(ask), page))),
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
    blocked: computed(() => first.data.value?.blocked ?? null),
    ready: computed(() => first.data.value !== undefined),
    error: computed(() => first.error.value as ApiError | null),
    retry: () => void first.refetch(),
    rowAt: (place) => byOffset.value.get(Math.floor(place / PAGE))?.[place % PAGE],
  };
}
