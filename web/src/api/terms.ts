import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

/** How terms must have the words of a seed. */
export type How = "all" | "any" | "phrase" | "begins" | "ends" | "inside";

export type StepRow = Schemas["StepRow"];

/** A search from a seed, as the API takes it. */
export interface SeedQuery {
  of: "terms";
  market?: string | undefined;
  seed: string;
  /** Words that terms must have as well. */
  also?: string | undefined;
  how?: How | undefined;
  without?: string | undefined;
  exact?: "yes" | undefined;
  after?: string | undefined;
  before?: string | undefined;
  sort: string;
}

export const termsQueries = {
  /** How buyers go on from a seed. */
  onward: (query: SeedQuery) =>
    queryOptions({
      queryKey: ["terms", "onward", { ...query, sort: undefined }],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/terms/onward/", { params: { query }, signal })),
    }),
};

/** A word drawn at random; the same number draws the same word. */
export const drawWord = (market: string | undefined, number: number) =>
  answerOf(
    client.GET("/api/terms/draw/", {
      params: { query: { ...(market ? { market } : {}), number } },
    }),
  );
