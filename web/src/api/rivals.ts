import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

export type ListingPreview = Schemas["ListingPreview"];
export type ListingPage = Schemas["ListingPage"];

export const readListing = (
  market: string,
  listing: string,
  signal?: AbortSignal,
): Promise<ListingPreview> =>
  answerOf(
    client.GET("/api/rivals/listing/", {
      params: { query: { market, listing } },
      ...(signal ? { signal } : {}),
    }),
  );

export const rivalsQueries = {
  /** A listing's past, its sellers, the terms that lead to it, and others of its niche. */
  page: (market: string, listing: string) =>
    queryOptions({
      queryKey: ["listing page", market, listing],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/rivals/listing/page/", {
            params: { query: { market, listing } },
            signal,
          }),
        ),
    }),
};
