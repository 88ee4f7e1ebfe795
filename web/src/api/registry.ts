import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

/** Plans a market's dates from a day, null for its as-of, with a lead time. */
export const choosePlanning = (body: Schemas["PlanningRequestRequest"]) =>
  answerOf(client.PUT("/api/planning/", { body }));

/** What a market is made of and what can be asked of it: markets, categories, figures, parts of headroom, signals. */
export const registryQueries = {
  markets: () =>
    queryOptions({
      queryKey: ["registry", "markets"],
      queryFn: () => answerOf(client.GET("/api/markets/")),
    }),
  figures: () =>
    queryOptions({
      queryKey: ["registry", "figures"],
      queryFn: () => answerOf(client.GET("/api/figures/")),
    }),
  parts: () =>
    queryOptions({
      queryKey: ["registry", "parts"],
      queryFn: () => answerOf(client.GET("/api/parts/")),
    }),
  signals: () =>
    queryOptions({
      queryKey: ["registry", "signals"],
      queryFn: () => answerOf(client.GET("/api/signals/")),
    }),
  categories: (market: string | undefined) =>
    queryOptions({
      queryKey: ["registry", "categories", market],
      enabled: Boolean(market),
      queryFn: () =>
        answerOf(client.GET("/api/categories/", { params: { query: market ? { market } : {} } })),
    }),
};
