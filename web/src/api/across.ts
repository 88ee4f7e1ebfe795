import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Kind, type Schemas } from "./client";
import { done } from "./desk";

export type AcrossMarkets = Schemas["AcrossMarkets"];
export type MarketBeside = Schemas["MarketBeside"];
export type MatchedRow = Schemas["MatchedRow"];
export type ProposedPair = Schemas["ProposedPair"];
export type SideLine = Schemas["SideLine"];
export type SideCell = Schemas["SideCell"];

/** Matches and exchange rates, and all that depends on them. */
export const ACROSS = ["across"] as const;

/** What can be the same in several markets. */
export type Crossing = Schemas["CrossingKind"];

/** Which pairs of two markets. */
export interface PairsAsked {
  of: Crossing;
  market: string;
  other: string;
  offset: number;
  find: string;
  /** Only what this row may be in the other one. */
  row?: string;
}

const asked = ({ of, market, other, offset, find }: PairsAsked) => ({
  of,
  market,
  other,
  offset,
  ...(find ? { find } : {}),
});

export const acrossQueries = {
  /** Rows of one market side by side. */
  beside: (of: Kind, market: string, row: string[]) =>
    queryOptions({
      queryKey: ["side by side", of, market, row],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/side-by-side/", { params: { query: { of, market, row } }, signal }),
        ),
    }),
  /** One row in all markets that have it. */
  row: (of: Crossing, market: string, row: string, into: string) =>
    queryOptions({
      queryKey: [...ACROSS, "row", of, market, row, into],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/across/", {
            params: { query: { of, market, row, ...(into ? { into } : {}) } },
            signal,
          }),
        ),
    }),
  matched: (pairs: PairsAsked) =>
    queryOptions({
      queryKey: [...ACROSS, "matched", pairs],
      enabled: pairs.other !== "",
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/across/matched/", { params: { query: asked(pairs) }, signal })),
    }),
  proposed: (pairs: PairsAsked) =>
    queryOptions({
      queryKey: [...ACROSS, "proposed", pairs],
      enabled: pairs.other !== "",
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/across/proposed/", {
            params: { query: { ...asked(pairs), ...(pairs.row ? { row: pairs.row } : {}) } },
            signal,
          }),
        ),
    }),
  rates: () =>
    queryOptions({
      queryKey: [...ACROSS, "rates"],
      queryFn: ({ signal }) => answerOf(client.GET("/api/across/rates/", { signal })),
    }),
};

/** Confirms or rejects matches; gives the ids of the decisions. */
export const decideMatches = (matches: Schemas["MatchRequestRequest"][]) =>
  answerOf(client.POST("/api/across/matches/", { body: { matches } }));

export const undoMatches = (match_ids: number[]) =>
  answerOf(client.POST("/api/across/matches/undo/", { body: { match_ids } }).then(done));

export const setRate = (body: Schemas["RateRequestRequest"]) =>
  answerOf(client.POST("/api/across/rates/", { body }));
