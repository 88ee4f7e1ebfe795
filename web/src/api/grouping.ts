import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

export type Grouping = Schemas["Grouping"];
export type ProposedNiche = Schemas["ProposedNiche"];
export type NichesChanged = Schemas["NichesChanged"];

export const groupingQueries = {
  /** How the terms of a market are grouped, what is proposed from the niche at `start` on, and what was changed. */
  all: (market: string | undefined, start = 0) =>
    queryOptions({
      queryKey: ["grouping", market, start],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/grouping/", {
            params: { query: { ...(market ? { market } : {}), ...(start ? { start } : {}) } },
            signal,
          }),
        ),
    }),
};

/** Groups the terms of a market, as a job. */
export const proposeNiches = (body: Schemas["ProposeRequestRequest"]) =>
  answerOf(client.POST("/api/grouping/propose/", { body }));

export const takeOverNiches = (body: Schemas["TakeOverRequestRequest"]) =>
  answerOf(client.POST("/api/grouping/take-over/", { body }));

export const makeNiche = (body: Schemas["MakeRequestRequest"]) =>
  answerOf(client.POST("/api/grouping/make/", { body }));

export const renameNiche = (body: Schemas["RenameRequestRequest"]) =>
  answerOf(client.POST("/api/grouping/rename/", { body }));

export const mergeNiches = (body: Schemas["MergeRequestRequest"]) =>
  answerOf(client.POST("/api/grouping/merge/", { body }));

/** Puts terms into a niche; null takes them out of theirs. */
export const moveTerms = (body: Schemas["MoveRequestRequest"]) =>
  answerOf(client.POST("/api/grouping/move/", { body }));

export const undoNiches = (market_id: string, change: number) =>
  answerOf(client.POST("/api/grouping/undo/", { body: { market_id, change } }));
