import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { useLocalStorage, useTimeoutFn } from "@vueuse/core";
import { computed, type ComputedRef, ref, watch } from "vue";
import { type Choice, NICHES } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import { nicheQueries } from "@/api/niche";
import { previewQueries } from "@/api/previews";
import type { KindWords } from "@/state/useKind";
import type { UseListStateReturn } from "@/state/useListState";

/** How many cards are fetched ahead, so that the next one stands there at once. */
const AHEAD = 3;
/** Milliseconds in which a card has the machine for itself before the next ones are fetched. */
const FIRST_THIS = 150;
const LEFT = "driftfield.skim.";

const useQueue = (state: UseListStateReturn) =>
  useQuery(computed(() => ledgerQueries.ids(state.ask.value)));

export interface UseSkimReturn {
  queue: ReturnType<typeof useQueue>;
  ids: ComputedRef<string[]>;
  decisions: ComputedRef<Record<string, Choice>>;
  /** Place in the queue; as long as the queue when its end is reached. */
  place: ComputedRef<number>;
  current: ComputedRef<string | undefined>;
  ended: ComputedRef<boolean>;
  /** Decisions a minute since the first of this sitting; null until there are some. */
  pace: ComputedRef<number | null>;
  go: (place: number) => void;
  jump: (id: string) => void;
  /** Notes that a decision was made, for the pace. */
  count: () => void;
}

/**
 * One row of the sieve's result after the other. The list stands while it is worked through: a
 * decision does not change it, even when the sieve asks for the undecided. Left, it is taken up again
 * where it was.
 */
export function useSkim(
  kind: KindWords,
  state: UseListStateReturn,
  market: ComputedRef<string | undefined>,
): UseSkimReturn {
  const cache = useQueryClient();
  const queue = useQueue(state);
  const ids = computed(() => queue.data.value?.ids ?? []);
  const decisions = computed<Record<string, Choice>>(() => queue.data.value?.decisions ?? {});
  const key = computed(() => LEFT + JSON.stringify(state.ask.value));
  const left = useLocalStorage(key, "");
  const ended = ref(false);

  /** Where to begin: at the row the address names, where this list was left, or the first open one. */
  const begin = computed(() => {
    const named = ids.value.indexOf(left.value);
    if (named >= 0) return named;
    return Math.max(
      0,
      ids.value.findIndex((id) => !decisions.value[id]),
    );
  });
  const place = computed(() => {
    if (ended.value) return ids.value.length;
    const named = ids.value.indexOf(state.id.value ?? "");
    return named >= 0 ? named : begin.value;
  });
  const current = computed(() => ids.value[place.value]);

  function go(to: number): void {
    ended.value = to >= ids.value.length;
    const next = ids.value[Math.max(0, to)];
    if (!ended.value && next) state.id.value = next;
  }

  const later = useTimeoutFn(fetchAhead, FIRST_THIS, { immediate: false });
  function fetchAhead(): void {
    const id = market.value;
    for (const one of ids.value.slice(place.value + 1, place.value + 1 + AHEAD)) {
      if (!id) return;
      void cache.prefetchQuery(previewQueries.of(kind.of, id, one));
      if (kind.of !== NICHES) continue;
      void cache.prefetchQuery(nicheQueries.terms(id, one));
      void cache.prefetchQuery(nicheQueries.listings(id, one));
    }
  }

  watch(
    [current, market],
    ([now, id]) => {
      if (!now || !id) return;
      left.value = now;
      if (state.id.value !== now) state.id.value = now;
      later.start();
    },
    { immediate: true },
  );

  const times = ref<number[]>([]);
  const pace = computed(() => {
    const [first] = times.value;
    const last = times.value.at(-1);
    if (times.value.length < 3 || first === undefined || last === undefined) return null;
    return ((times.value.length - 1) * 60_000) / Math.max(last - first, 1);
  });

  return {
    queue,
    ids,
    decisions,
    place,
    current,
    ended: computed(() => ended.value),
    pace,
    go,
    jump: (one) => go(ids.value.indexOf(one)),
    count: () => times.value.push(Date.now()),
  };
}
