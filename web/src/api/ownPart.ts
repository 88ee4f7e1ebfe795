import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

export type NicheOwn = Schemas["NicheOwn"];
export type OwnComparison = Schemas["OwnComparison"];
export type OwnRow = Schemas["OwnRow"];

export const ownPartQueries = {
  /** One’s own sales of a niche beside the market. */
  niche: (market: string, niche: string) =>
    queryOptions({
      queryKey: ["niche", "own", market, niche] as const,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/niche/own/", { params: { query: { market, niche } }, signal })),
    }),
  /** Every niche in which one sells. */
  all: (market: string) =>
    queryOptions({
      queryKey: ["own part", market] as const,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/own/part/", { params: { query: { market } }, signal })),
    }),
};
