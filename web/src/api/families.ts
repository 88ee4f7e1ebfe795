import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

export type Family = Schemas["Family"];
export type FamilyRow = Schemas["FamilyRow"];

export const familyQueries = {
  /** The families of a market, most searched first. */
  all: (market: string | undefined) =>
    queryOptions({
      queryKey: ["families", market],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/families/", { params: { query: market ? { market } : {} }, signal }),
        ),
    }),
  /** Niches that were chosen, as a family. */
  chosen: (market: string, niche: string[]) =>
    queryOptions({
      queryKey: ["families", "chosen", market, niche],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/families/chosen/", { params: { query: { market, niche } }, signal }),
        ),
    }),
  /** The family of a niche. */
  of: (market: string, niche: string) =>
    queryOptions({
      queryKey: ["families", market, niche],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/families/family/", { params: { query: { market, niche } }, signal }),
        ),
    }),
};
