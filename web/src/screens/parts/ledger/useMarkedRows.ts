import { useQueryClient } from "@tanstack/vue-query";
import { computed, type ComputedRef, type MaybeRefOrGetter, toValue } from "vue";
import type { ApiError, Choice } from "@/api/client";
import { useDecisions } from "@/state/useDecisions";
import { type LedgerQuery, ledgerQueries, type RowsQuery } from "@/api/ledger";
import { useMarked } from "@/state/useMarked";
import { useSideBySide } from "@/state/useSideBySide";
import { useNotice } from "@/state/useNotice";

export interface UseMarkedRowsReturn {
  marked: ComputedRef<string[]>;
  isMarked: (niche: string) => boolean;
  toggle: (niche: string) => void;
  clear: () => void;
  /** Marks the row at a place, or with `also` all from the one marked last. */
  markAt: (place: number, niche: string | undefined, also: boolean) => Promise<void>;
  /** Marks all that pass, whether or not they have come into view. */
  markAll: () => Promise<void>;
  /** The same decision for all that are marked. */
  decideMarked: (choice: Choice) => Promise<void>;
  compare: () => void;
  /** Addresses of what can be taken out: of the marked niches, or of all that pass. */
  files: ComputedRef<{ ledger: string; readings: string; tables: string; whole: string }>;
}

/** Rows of the ledger that were marked, and what is done with all of them. */
export function useMarkedRows(
  market: MaybeRefOrGetter<string | undefined>,
  ask: MaybeRefOrGetter<LedgerQuery>,
  niches: MaybeRefOrGetter<RowsQuery>,
): UseMarkedRowsReturn {
  const cache = useQueryClient();
  const { notify } = useNotice();
  const { decideAll } = useDecisions();
  const compare = useSideBySide();
  const { marked, isMarked, toggle, mark, clear } = useMarked();
  let last = 0;

  async function markAt(place: number, niche: string | undefined, also: boolean): Promise<void> {
    if (!niche) return;
    const [from, to] = [Math.min(last, place), Math.max(last, place)];
    last = place;
    if (!also) {
      toggle(niche);
      return;
    }
    try {
      // From the whole list, for rows between may never have come into view.
      const { ids } = await cache.fetchQuery(ledgerQueries.idsNow(toValue(niches)));
      mark(ids.slice(from, to + 1));
    } catch (error) {
      notify((error as ApiError).message);
    }
  }

  return {
    marked,
    isMarked,
    toggle,
    clear,
    markAt,
    markAll: async () => {
      try {
        const { ids } = await cache.fetchQuery(ledgerQueries.idsNow(toValue(niches)));
        mark(ids);
      } catch (error) {
        notify((error as ApiError).message);
      }
    },
    decideMarked: async (choice) => {
      await decideAll(toValue(market) ?? "", marked.value, choice);
      clear();
    },
    compare: () => compare(toValue(market), marked.value),
    files: computed(() => {
      const { of, market: id, c = [], near, lens, sort, figures, ...seed } = toValue(ask);
      const query = new URLSearchParams();
      const set = (parts: object): void => {
        for (const [key, value] of Object.entries(parts)) if (value) query.set(key, String(value));
      };
      set({ of, market: id, lens, sort });
      // What is marked is meant, whether or not it passes what is asked now.
      for (const one of marked.value) query.append("niche", one);
      if (!marked.value.length) {
        set(seed);
        for (const condition of c) query.append("c", condition);
        if (near) query.set("near", near);
      }
      const columns = figures ? `&${new URLSearchParams({ figures })}` : "";
      const all = new URLSearchParams({ market: toValue(market) ?? "", all: "yes" });
      return {
        ledger: `/api/ledger/file/?${query}${columns}`,
        readings: `/api/readings/file/?${query}`,
        tables: `/api/tables/?${query}`,
        whole: `/api/tables/?${all}`,
      };
    }),
  };
}
