import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";
import { done } from "./desk";

export type WordList = Schemas["WordList"];
export type WordListRow = Schemas["WordListRow"];
export type ListedTerm = Schemas["ListedTerm"];

export type ListedThing = Schemas["ListedThing"];
export type ListedKind = Schemas["ListedKind"];

export const listQueries = {
  /** The lists of a market, of a kind. */
  all: (market: string | undefined, of: ListedKind) =>
    queryOptions({
      queryKey: ["lists", of, market],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/word-lists/", {
            params: { query: market ? { market, of } : { of } },
            signal,
          }),
        ),
    }),
  /** One list with what it holds. */
  of: (market: string, of: ListedKind, name: string) =>
    queryOptions({
      queryKey: ["lists", of, market, name],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/word-lists/list/", { params: { query: { market, of, name } }, signal }),
        ),
    }),
  /** What terms come to together. */
  total: (market_id: string, terms: string[]) =>
    queryOptions({
      queryKey: ["lists", "total", market_id, terms],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(
          client.POST("/api/word-lists/total/", {
            body: { market_id, of: "terms", terms },
            signal,
          }),
        ),
    }),
};

/** Adds to a list, which is made where there is none, or notes on it; without either it is brought back. */
export const saveList = (
  body: Pick<Schemas["ListRequestRequest"], "market_id" | "name"> &
    Partial<Schemas["ListRequestRequest"]>,
) => answerOf(client.POST("/api/word-lists/list/", { body: { ...EMPTY, ...body } }));
const EMPTY = { of: "terms", terms: [] as string[], pasted: "", replace: false } as const;

export const dropEntries = (body: Schemas["DropRequestRequest"]) =>
  answerOf(client.POST("/api/word-lists/drop/", { body }));

export const removeList = (market: string, of: ListedKind, name: string) =>
  answerOf(
    client.DELETE("/api/word-lists/list/", { params: { query: { market, of, name } } }).then(done),
  );
