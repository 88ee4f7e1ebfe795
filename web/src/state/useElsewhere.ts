import { computed, type ComputedRef } from "vue";
import { useRouter } from "vue-router";
import type { RouteLocationRaw } from "vue-router";
import { useKind } from "./useKind";
import { useMarket } from "./useMarket";
import type { Shortcut } from "./useShortcuts";

export interface UseElsewhereReturn {
  /** Whether there is another market to look in. */
  several: ComputedRef<boolean>;
  /** Where a row stands in all markets. */
  toRow: (id: string) => RouteLocationRaw;
  /** The key that leads there from the row at hand. */
  shortcut: (at: () => string | undefined) => Shortcut;
}

/** The way from a row of the screen's kind to the same in other markets. */
export function useElsewhere(): UseElsewhereReturn {
  const router = useRouter();
  const kind = useKind();
  const { id, markets } = useMarket();
  const toRow = (row: string): RouteLocationRaw => ({
    path: "/across",
    query: { market: id.value, of: kind.of, [kind.named]: row },
  });
  return {
    several: computed(() => kind.crossing && (markets.data.value?.length ?? 0) > 1),
    toRow,
    shortcut: (at) => ({
      keys: ["e"],
      does: "The same elsewhere: in other markets",
      run: () => {
        const row = at();
        if (row && kind.crossing) void router.push(toRow(row));
      },
    }),
  };
}
