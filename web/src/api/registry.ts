import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Kind, type Schemas } from "./client";

/** Plans a market's dates from a day, null for its as-of, with a lead time. */
export const choosePlanning = (body: Schemas["PlanningRequestRequest"]) =>
  answerOf(client.PUT("/api/planning/", { body }));

/** Changes settings of a market; null goes back to the default. */
export const chooseSettings = (market_id: string, changed: Record<string, number | null>) =>
  answerOf(client.PUT("/api/settings/", { body: { market_id, changed } }));

/** Overrules settings for one niche; null goes back to the market's. */
export type Language = Schemas["LanguageRequestRequest"]["language"];

export const chooseLanguage = (market_id: string, language: Language) =>
  answerOf(client.PUT("/api/settings/language/", { body: { market_id, language } }));

export const overrule = (body: Schemas["NicheSettingsRequestRequest"]) =>
  answerOf(client.PUT("/api/settings/niche/", { body }));

/** Analyses a market anew, with the settings that were chosen for it. */
export const analyse = (market_id: string) =>
  answerOf(client.POST("/api/settings/analyse/", { body: { market_id } }));

const lensesOf = (of: Kind, market: string | undefined) => ({
  params: { query: { of, ...(market ? { market } : {}) } },
});

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
  /** What a lens weighs; of categories as the settings weigh it with which their market was analysed. */
  parts: (of: Kind, market: string | undefined) =>
    queryOptions({
      queryKey: ["registry", "parts", of, market],
      queryFn: () => answerOf(client.GET("/api/parts/", lensesOf(of, market))),
    }),
  lenses: (of: Kind, market: string | undefined) =>
    queryOptions({
      queryKey: ["registry", "lenses", of, market],
      queryFn: () => answerOf(client.GET("/api/lenses/", lensesOf(of, market))),
    }),
  glossary: () =>
    queryOptions({
      queryKey: ["registry", "glossary"],
      staleTime: Infinity,
      queryFn: () => answerOf(client.GET("/api/glossary/")),
    }),
  signals: () =>
    queryOptions({
      queryKey: ["registry", "signals"],
      queryFn: () => answerOf(client.GET("/api/signals/")),
    }),
  settings: (market: string | undefined) =>
    queryOptions({
      queryKey: ["registry", "settings", market],
      enabled: Boolean(market),
      queryFn: () =>
        answerOf(client.GET("/api/settings/", { params: { query: market ? { market } : {} } })),
    }),
  categories: (market: string | undefined) =>
    queryOptions({
      queryKey: ["registry", "categories", market],
      enabled: Boolean(market),
      queryFn: () =>
        answerOf(client.GET("/api/categories/", { params: { query: market ? { market } : {} } })),
    }),
};
