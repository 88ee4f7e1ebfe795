import { useQueryClient } from "@tanstack/vue-query";
import { ref, type Ref } from "vue";
import type { ApiError } from "@/api/client";
import type { NichesChanged } from "@/api/grouping";
import { useNotice } from "./useNotice";

export interface UseNicheChangeReturn {
  busy: Ref<boolean>;
  /** Makes a change of the niches, says what came of it, and whether it was made. ``leave`` goes where what the screen
   *  shows is gone: it is not asked for again. */
  change: (
    work: () => Promise<NichesChanged>,
    leave?: () => void,
  ) => Promise<NichesChanged | undefined>;
}

/** Changes of the niches: what follows from one is fetched anew, and what one must wait for is said. */
export function useNicheChange(): UseNicheChangeReturn {
  const cache = useQueryClient();
  const { notify } = useNotice();
  const busy = ref(false);
  return {
    busy,
    change: async (work, leave) => {
      if (busy.value) return undefined;
      busy.value = true;
      try {
        const done = await work();
        const { sentence, undone_at } = done.change;
        const later = done.job ? " The market is being analysed again; its figures follow." : "";
        notify(`${undone_at ? "Undone: " : ""}${sentence}.${later}`);
        leave?.();
        // The address has changed, and with it what is asked for, when all that was begun has been done.
        if (leave) await new Promise((done) => setTimeout(done));
        await cache.invalidateQueries();
        return done;
      } catch (error) {
        notify(`Nothing was changed. ${(error as ApiError).message}`, true);
        return undefined;
      } finally {
        busy.value = false;
      }
    },
  };
}
