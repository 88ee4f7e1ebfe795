import type { VueQueryPluginOptions } from "@tanstack/vue-query";
import { QueryClient } from "@tanstack/vue-query";

/** Figures change only when something is imported, so they are kept until the page is left. Answers are replaced whole
 *  and never written into, so nothing inside them is watched. */
export const queryOptions: VueQueryPluginOptions = {
  queryClient: new QueryClient({
    defaultOptions: {
      queries: { staleTime: 5 * 60_000, retry: 1, refetchOnWindowFocus: false, shallow: true },
    },
  }),
};
