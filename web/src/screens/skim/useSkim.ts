import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { useLocalStorage, useTimeoutFn } from "@vueuse/core";
import { computed, type ComputedRef, ref, watch } from "vue";
import type { Choice } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import { nicheQueries } from "@/api/niche";
import type { UseFieldStateReturn } from "@/state/useFieldState";

/** How many cards are fetched ahead, so that the next one stands there at once. */
const AHEAD = 3;
/** Milliseconds in which a card has the machine for itself before the next ones are fetched. */
const FIRST_THIS = 150;
const LEFT = "driftfield.skim.";

const useQueue = (state: UseFieldStateReturn) =>
  useQuery(computed(() => ledgerQueries.ids(state.ask.value)));

export interface UseSkimReturn {
  queue: ReturnType<typeof useQueue>;
  niches: ComputedRef<string[]>;
  decisions: ComputedRef<Record<string, Choice>>;
  /** Place in the queue; as long as the queue when its end is reached. */
  place: ComputedRef<number>;
  niche: ComputedRef<string | undefined>;
  ended: ComputedRef<boolean>;
  /** Decisions a minute since the first of this sitting; null until there are some. */
  pace: ComputedRef<number | null>;
  go: (place: number) => void;
  jump: (niche: string) => void;
  /** Notes that a decision was made, for the pace. */
  count: () => void;
}

/**
 * One niche of the sieve's result after the other. The list stands while it is worked through: a
 * decision does not change it, even when the sieve asks for the undecided. Left, it is taken up again
 * where it was.
 */
export function useSkim(
  state: UseFieldStateReturn,
  market: ComputedRef<string | undefined>,
): UseSkimReturn {
  const cache = useQueryClient();
  const queue = useQueue(state);
  const niches = computed(() => queue.data.value?.ids ?? []);
  const decisions = computed<Record<string, Choice>>(() => queue.data.value?.decisions ?? {});
  const key = computed(() => LEFT + JSON.stringify(state.ask.value));
  const left = useLocalStorage(key, "");
  const ended = ref(false);

  /** Where to begin: at the niche the address names, where this list was left, or the first open one. */
  const begin = computed(() => {
    const named = niches.value.indexOf(left.value);
    if (named >= 0) return named;
    return Math.max(
      0,
      niches.value.findIndex((niche) => !decisions.value[niche]),
    );
  });
  const place = computed(() => {
    if (ended.value) return niches.value.length;
    const named = niches.value.indexOf(state.niche.value ?? "");
    return named >= 0 ? named : begin.value;
  });
  const niche = computed(() => niches.value[place.value]);

  function go(to: number): void {
    ended.value = to >= niches.value.length;
    const next = niches.value[Math.max(0, to)];
    if (!ended.value && next) state.niche.value = next;
  }

  const later = useTimeoutFn(fetchAhead, FIRST_THIS, { immediate: false });
  function fetchAhead(): void {
    const id = market.value;
    for (const one of niches.value.slice(place.value + 1, place.value + 1 + AHEAD)) {
      if (!id) return;
      void cache.prefetchQuery(nicheQueries.preview(id, one));
      void cache.prefetchQuery(nicheQueries.terms(id, one));
      void cache.prefetchQuery(nicheQueries.listings(id, one));
    }
  }

  watch(
    [niche, market],
    ([now, id]) => {
      if (!now || !id) return;
      left.value = now;
      if (state.niche.value !== now) state.niche.value = now;
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
    niches,
    decisions,
    place,
    niche,
    ended: computed(() => ended.value),
    pace,
    go,
    jump: (one) => go(niches.value.indexOf(one)),
    count: () => times.value.push(Date.now()),
  };
}
