import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

export type MadePlan = Schemas["MadePlan"];
export type KeptPlan = Schemas["KeptPlan"];

/** What is asked of a plan's inputs, as schemas/plan.schema.json has them. */
export interface PlanDocument {
  [field: string]: unknown;
  name?: string;
  ordered?: string | null;
  for?: "season" | { weeks?: number; until?: string } | null;
  units?: "newcomers" | { listing?: string; share?: number; own?: string } | null;
  sold_as?: string | null;
  quote?: PlanQuote;
  transport?: PlanWay[];
  product?: Record<string, number | string | null>;
  selling?: Record<string, number | boolean | string | number[] | null>;
  service?: number | null;
  leftover?: { do?: string; at?: number | null; weeks?: number | null } | null;
  budget?: number | null;
  quantity?: number | null;
  own_figure?: Record<string, number | null> | null;
}
export interface PlanQuote {
  [field: string]: unknown;
  name?: string;
  breaks: { units: number | null; cost: number | null }[];
}
export interface PlanWay {
  [field: string]: unknown;
  name?: string;
  days: number | null;
  share?: number | null;
}

export const PLANS = ["plans"] as const;

export const planQueries = {
  /** What comes of some inputs; without a document of those that a first plan starts with. */
  made: (market_id: string, niche_id: string, document: PlanDocument | null) =>
    queryOptions({
      queryKey: [...PLANS, "made", market_id, niche_id, document],
      queryFn: ({ signal }) =>
        answerOf(
          client.POST("/api/niche/plan/", { body: { market_id, niche_id, document }, signal }),
        ),
    }),
  kept: (market: string, niche: string) =>
    queryOptions({
      queryKey: [...PLANS, "kept", market, niche],
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/desk/plans/", { params: { query: { market, niche } }, signal })),
    }),
};

export const toldPlans = (market: string, niche: string) =>
  queryOptions({
    queryKey: [...PLANS, "told", market, niche],
    staleTime: 0,
    queryFn: ({ signal }) =>
      answerOf(
        client.GET("/api/desk/plans/", {
          params: { query: { market, niche, told: "yes" } },
          signal,
        }),
      ),
  });

export const keepPlan = (body: Schemas["KeepPlanRequestRequest"]) =>
  answerOf(client.POST("/api/desk/plans/", { body }));

export const undoPlan = (key: string) =>
  answerOf(client.POST("/api/desk/plans/undo/", { body: { key } }));
