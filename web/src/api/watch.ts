import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Kind, type Schemas } from "./client";

export type Watch = Schemas["Watch"];
export type WatchChange = Schemas["WatchChange"];
export type WatchSieve = Schemas["WatchSieve"];

export const WATCH = ["watch"] as const;

export const watchQueries = {
  /** What a week asks for; `since`: the look from which all changes are told, else what is not seen yet. */
  digest: (market: string, since?: number, seen = false) =>
    queryOptions({
      queryKey: [...WATCH, market, since ?? null, seen],
      staleTime: 0,
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/watch/", {
            params: { query: { market, since, seen: seen || undefined } },
            signal,
          }),
        ),
    }),
  /** What was known of a subject after each import. */
  history: (market: string, of: Kind, id: string, figures: string) =>
    queryOptions({
      queryKey: [...WATCH, "history", market, of, id, figures],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/history/", { params: { query: { market, of, id, figures } }, signal }),
        ),
    }),
};

export const markSeen = (market_id: string, ids: number[], seen: boolean) =>
  answerOf(client.POST("/api/watch/seen/", { body: { market_id, ids, seen } }));
