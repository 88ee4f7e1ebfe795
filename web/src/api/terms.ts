import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";
import type { RowsQuery } from "./ledger";

/** How terms must have the words of a seed. */
export type How = "all" | "any" | "phrase" | "begins" | "ends" | "inside";

export type StepRow = Schemas["StepRow"];
export type RelatedTerm = Schemas["RelatedTerm"];

/** A search from a seed, as the API takes it. */
export interface Seed {
  seed: string;
  /** Words that terms must have as well. */
  also?: string | undefined;
  how?: How | undefined;
  without?: string | undefined;
  exact?: "yes" | undefined;
  after?: string | undefined;
  before?: string | undefined;
}

export const termsQueries = {
  /** What else a term's buyers look for. */
  related: (market: string, term: string, words: "with" | "without") =>
    queryOptions({
      queryKey: ["terms", "related", market, term, words],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/terms/related/", { params: { query: { market, term, words } }, signal }),
        ),
    }),
  /** How buyers go on from a seed. */
  onward: (rows: RowsQuery & Seed) =>
    queryOptions({
      queryKey: ["terms", "onward", { ...rows, sort: undefined }],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/terms/onward/", { params: { query: rows }, signal })),
    }),
};

/** A word drawn at random; the same number draws the same word. */
export const drawWord = (market: string | undefined, number: number) =>
  answerOf(
    client.GET("/api/terms/draw/", {
      params: { query: { ...(market ? { market } : {}), number } },
    }),
  );
