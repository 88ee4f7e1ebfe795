import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

export type TrackRecord = Schemas["TrackRecordFound"];
export type TrackLine = Schemas["TrackLine"];
export type TrackMiss = Schemas["TrackMiss"];
export type FittedLens = Schemas["FittedLensRow"];
export type Replayed = "niches" | "terms" | "categories";

/** Weeks between two days that are replayed. */
const EVERY = 13;

export const PROOF = ["proof"] as const;

export const proofQueries = {
  /** What was said on past days, and how far it held. */
  record: (market: string, of: Replayed) =>
    queryOptions({
      queryKey: [...PROOF, market, of],
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/track-record/", { params: { query: { market, of } }, signal })),
    }),
  /** What of it is said on other pages. */
  lines: (market: string, of: Replayed) =>
    queryOptions({
      queryKey: [...PROOF, "lines", market, of],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/track-record/lines/", { params: { query: { market, of } }, signal }),
        ),
    }),
};

/** As a job; days that were kept are taken over unless it is to be `anew`. */
export const replayPast = (market_id: string, of: Replayed, anew = false) =>
  answerOf(
    client.POST("/api/track-record/replay/", { body: { market_id, of, anew, every: EVERY } }),
  );

/** The lens that launches propose, kept among one's own. */
export const takeFittedLens = (market_id: string) =>
  answerOf(client.POST("/api/track-record/lens/", { body: { market_id, name: "" } }));
