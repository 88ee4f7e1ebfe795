import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Kind, type Schemas } from "./client";

export type Almanac = Schemas["Almanac"];
export type AlmanacLine = Schemas["AlmanacLine"];
export type AlmanacSeason = Schemas["AlmanacSeason"];
export type Happening = Schemas["AlmanacHappening"];

/** What the almanac can be sorted by. */
export type AlmanacBy = "next" | "rank" | "name" | "category";

/** What passes, by what it is sorted, and the day that is planned from here. */
export interface AlmanacQuery {
  of?: Kind | undefined;
  market?: string | undefined;
  c?: string[] | undefined;
  near?: "yes" | undefined;
  lens?: string | undefined;
  /** Only these, by id. */
  niche?: string[] | undefined;
  by?: AlmanacBy | undefined;
  on?: string | undefined;
}

/** What the almanac shows follows decisions: most look at what is kept. */
export const ALMANAC = ["almanac"] as const;

export const almanacQueries = {
  rows: (query: AlmanacQuery) =>
    queryOptions({
      queryKey: [...ALMANAC, "rows", query],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => answerOf(client.GET("/api/almanac/", { params: { query }, signal })),
    }),
  /** What is to be done and happens, by day. */
  weeks: (query: AlmanacQuery) =>
    queryOptions({
      queryKey: [...ALMANAC, "weeks", query],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/almanac/weeks/", { params: { query }, signal })),
    }),
};
