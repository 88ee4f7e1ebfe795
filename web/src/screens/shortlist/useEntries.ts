import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, type ComputedRef, type MaybeRefOrGetter, ref, toValue } from "vue";
import type { ApiError, Kind, Schemas } from "@/api/client";
import { deskQueries, saveOrder, saveReason, saveRemark, SHORTLIST } from "@/api/desk";
import { PREVIEWS } from "@/api/previews";
import { useNotice } from "@/state/useNotice";

export type Entry = Schemas["ShortlistEntry"];
export type Listed = "keep" | "park" | "pass";

const useShortlist = (
  of: Kind,
  market: MaybeRefOrGetter<string | undefined>,
  choices: MaybeRefOrGetter<Listed[]>,
) => useQuery(computed(() => deskQueries.shortlist(of, toValue(market), toValue(choices))));

export interface UseEntriesReturn {
  list: ReturnType<typeof useShortlist>;
  entries: ComputedRef<Entry[]>;
  /** Tags in use, with how many of the entries carry each. */
  tags: ComputedRef<[tag: string, many: number][]>;
  /** Whether it was kept. */
  saveTags: (entry: Entry, tags: string[]) => Promise<boolean>;
  explain: (entry: Entry, reason: string) => Promise<boolean>;
  /** Puts an entry before or after the others, `by` places on; the order is kept at once. */
  move: (entry: Entry, by: number) => Promise<void>;
}

/** The shortlist's entries and what can be written on them. */
export function useEntries(
  kind: Kind,
  market: MaybeRefOrGetter<string | undefined>,
  choices: MaybeRefOrGetter<Listed[]>,
  tag: MaybeRefOrGetter<string>,
): UseEntriesReturn {
  const cache = useQueryClient();
  const { notify } = useNotice();
  const list = useShortlist(kind, market, choices);
  /** The order wanted while it is being kept. It lies over what the server says: an answer that was under way when a
   *  row was moved would otherwise put it back, and the next move would start from there. */
  const wantedOrder = ref<string[] | null>(null);
  const all = computed(() => {
    const known = list.data.value ?? [];
    if (!wantedOrder.value) return known;
    const places = new Map(wantedOrder.value.map((id, i) => [id, i]));
    const placeOf = (entry: Entry) => places.get(entry.id) ?? places.size;
    return [...known].sort((a, b) => placeOf(a) - placeOf(b));
  });

  let saving: Promise<unknown> = Promise.resolve();

  /** Does the work and shows what the server has then, unless more is on its way; whether it was done. */
  async function change(work: () => Promise<unknown>, latest = () => true): Promise<boolean> {
    let kept = true;
    try {
      await work();
    } catch (error) {
      kept = false;
      notify(`Not kept: ${(error as ApiError).message}`, true);
    }
    if (!latest()) return kept;
    await cache.invalidateQueries({ queryKey: SHORTLIST });
    await cache.invalidateQueries({ queryKey: PREVIEWS });
    return kept;
  }

  const of = (entry: Entry) => ({ market_id: toValue(market) ?? "", of: kind, id: entry.id });
  return {
    list,
    entries: computed(() => {
      const wanted = toValue(tag);
      return wanted ? all.value.filter((one) => one.tags.includes(wanted)) : all.value;
    }),
    tags: computed(() => {
      const counts = new Map<string, number>();
      for (const one of all.value)
        for (const word of one.tags) counts.set(word, (counts.get(word) ?? 0) + 1);
      return [...counts].sort(([a], [b]) => a.localeCompare(b));
    }),
    saveTags: (entry, tags) => change(() => saveRemark({ ...of(entry), tags })),
    explain: (entry, reason) => change(() => saveReason({ ...of(entry), reason })),
    move: async (entry, by) => {
      const ids = all.value.map((one) => one.id);
      const from = ids.indexOf(entry.id);
      const to = Math.min(ids.length - 1, Math.max(0, from + by));
      if (from < 0 || to === from) return;
      ids.splice(to, 0, ...ids.splice(from, 1));
      wantedOrder.value = ids;
      // One after the other: of two sent at once the earlier one could be the last to arrive.
      const before = saving;
      const mine = (async () => {
        await before.catch(() => undefined);
        await saveOrder(kind, toValue(market) ?? "", ids);
      })();
      saving = mine;
      await change(
        () => mine,
        () => saving === mine,
      );
      if (saving === mine) wantedOrder.value = null;
    },
  };
}
