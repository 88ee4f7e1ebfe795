import { useQueryClient } from "@tanstack/vue-query";
import { ref, type Ref } from "vue";
import { ACROSS, decideMatches, setRate, undoMatches } from "@/api/across";
import type { ApiError, Schemas } from "@/api/client";
import { useNotice } from "@/state/useNotice";

type Match = Schemas["MatchRequestRequest"];

export interface UseMatchesReturn {
  busy: Ref<boolean>;
  /** Confirms or rejects matches; the latest decision can be undone. */
  decide: (matches: Match[], done: string) => Promise<boolean>;
  undo: (ids: number[]) => Promise<boolean>;
  keepRate: (body: Schemas["RateRequestRequest"], told: string) => Promise<boolean>;
  /** Ids of the latest decisions; empty once they were undone. */
  last: Ref<number[]>;
}

/** Decisions on matches, and exchange rates; one at a time, with a notice of what was done. */
export function useMatches(): UseMatchesReturn {
  const cache = useQueryClient();
  const { notify } = useNotice();
  const busy = ref(false);
  const last = ref<number[]>([]);

  async function doing(work: () => Promise<string>): Promise<boolean> {
    if (busy.value) return false;
    busy.value = true;
    try {
      notify(await work());
      return true;
    } catch (error) {
      notify((error as ApiError).message, true);
      return false;
    } finally {
      busy.value = false;
      await cache.invalidateQueries({ queryKey: ACROSS });
    }
  }

  return {
    busy,
    last,
    decide: (matches, done) =>
      doing(async () => {
        last.value = (await decideMatches(matches)).match_ids;
        return `${done}. Press u to undo.`;
      }),
    undo: (ids) =>
      doing(async () => {
        await undoMatches(ids);
        last.value = [];
        return "Undone.";
      }),
    keepRate: (body, told) => doing(async () => (await setRate(body), told)),
  };
}
