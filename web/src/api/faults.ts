import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client } from "./client";

export const faultQueries = {
  /** Faults that were noted; asked for anew each time, for one comes to look at the latest. */
  all: () =>
    queryOptions({
      queryKey: ["faults"],
      staleTime: 0,
      queryFn: ({ signal }) => answerOf(client.GET("/api/faults/", { signal })),
    }),
};
