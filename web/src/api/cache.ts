import type { VueQueryPluginOptions } from "@tanstack/vue-query";
import { QueryClient } from "@tanstack/vue-query";
import { ApiError } from "./client";

const SERVER_FAULT = 500;
/** Once more where the server was not there or failed; what it refuses it would refuse again. */
const retry = (failures: number, error: Error): boolean =>
  failures < 1 && !(error instanceof ApiError && error.status > 0 && error.status < SERVER_FAULT);

/** Figures change only when something is imported, so they are kept until the page is left. Answers are replaced whole
 *  and never written into, so nothing inside them is watched. */
export const queryOptions: VueQueryPluginOptions = {
  queryClient: new QueryClient({
    defaultOptions: {
      queries: { staleTime: 5 * 60_000, retry, refetchOnWindowFocus: false, shallow: true },
    },
  }),
};
