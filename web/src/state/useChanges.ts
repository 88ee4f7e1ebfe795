import { useQueryClient } from "@tanstack/vue-query";
import { useDocumentVisibility, useIntervalFn } from "@vueuse/core";
import { readonly, ref, type Ref, watch } from "vue";
import { ALMANAC } from "@/api/almanac";
import { NICHES, type Schemas, type SubjectPreview } from "@/api/client";
import { ACROSS } from "@/api/across";
import { readChanges } from "@/api/changes";
import { LENSES, SHORTLIST, SIEVES } from "@/api/desk";
import { COSTS, VOICES } from "@/api/niche";
import { PLANS } from "@/api/plans";
import { previewQueries } from "@/api/previews";
import { WATCH } from "@/api/watch";
import { useShownDecisions } from "./shownDecisions";
import { KINDS } from "./useKind";
import { isUnreached, useDrafts } from "./useDrafts";

type Changes = Schemas["Changes"];

const EVERY = 2_000; // Milliseconds from question to question; the page learns within three seconds.
const away = ref(false);

/** Whether the server does not answer at present. */
export const useAway = (): Readonly<Ref<boolean>> => readonly(away);

/**
 * Learns of what other windows do: asks the server what has changed, and shows decisions and notes in place, so that
 * no list moves under one's hands; new figures are fetched anew. Once for the application.
 */
export function useChanges(): void {
  const cache = useQueryClient();
  const shownOf = useShownDecisions();
  const { now } = shownOf(NICHES);
  const { drafts, sendAll } = useDrafts();
  let since = new Date(performance.timeOrigin).toISOString();
  let known: Pick<Changes, "figures" | "lists"> | undefined;
  let busy = false;
  let starting = true;

  function take(found: Changes, asked: number): void {
    for (const { of } of Object.values(KINDS)) {
      const { show, untouched } = shownOf(of);
      const made = found.decisions.filter((one) => one.of === of);
      show(untouched(new Map(made.map((one) => [one.id, one.choice])), asked));
    }
    for (const one of found.remarks) {
      // Of a category, by every lens that it was looked at with.
      cache.setQueriesData<SubjectPreview>(
        { queryKey: previewQueries.of(one.of, one.market_id, one.id).queryKey },
        (known) => known && { ...known, note: one.note, tags: one.tags },
      );
    }
    if (found.decisions.length || found.remarks.length)
      for (const queryKey of [SHORTLIST, ALMANAC]) void cache.invalidateQueries({ queryKey });
    if (known && known.figures !== found.figures) void cache.invalidateQueries();
    else if (known && known.lists !== found.lists) {
      void cache.invalidateQueries({ queryKey: SIEVES });
      void cache.invalidateQueries({ queryKey: LENSES });
      void cache.invalidateQueries({ queryKey: COSTS });
      void cache.invalidateQueries({ queryKey: VOICES });
      void cache.invalidateQueries({ queryKey: ACROSS });
      void cache.invalidateQueries({ queryKey: [...PLANS, "kept"] });
      void cache.invalidateQueries({ queryKey: WATCH });
      void cache.invalidateQueries({ queryKey: [...PLANS, "orders"] });
    }
    known = found;
    since = found.desk || since;
  }

  async function ask(): Promise<void> {
    if (busy) return;
    busy = true;
    const asked = now();
    try {
      take(await readChanges(since), asked);
      away.value = false;
      if (Object.keys(drafts.value).length) await sendAll(starting);
      starting = false;
    } catch (error) {
      away.value = isUnreached(error);
    } finally {
      busy = false;
    }
  }

  const visibility = useDocumentVisibility();
  const { pause, resume } = useIntervalFn(ask, EVERY, { immediateCallback: true });
  watch(visibility, (seen) => (seen === "visible" ? resume() : pause()));
}
