import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";
import { done } from "./desk";

export type WordList = Schemas["WordList"];
export type WordListRow = Schemas["WordListRow"];
export type ListedTerm = Schemas["ListedTerm"];

export const listQueries = {
  /** The lists of a market. */
  all: (market: string | undefined) =>
    queryOptions({
      queryKey: ["lists", market],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/word-lists/", { params: { query: market ? { market } : {} }, signal }),
        ),
    }),
  /** One list with its terms. */
  of: (market: string, name: string) =>
    queryOptions({
      queryKey: ["lists", market, name],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/word-lists/list/", { params: { query: { market, name } }, signal }),
        ),
    }),
  /** What terms come to together. */
  total: (market_id: string, terms: string[]) =>
    queryOptions({
      queryKey: ["lists", "total", market_id, terms],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(client.POST("/api/word-lists/total/", { body: { market_id, terms }, signal })),
    }),
};

/** Adds terms to a list, which is made where there is none; without any it is brought back. */
export const saveList = (body: Schemas["ListRequestRequest"]) =>
  answerOf(client.POST("/api/word-lists/list/", { body }));

export const dropTerms = (body: Schemas["DropRequestRequest"]) =>
  answerOf(client.POST("/api/word-lists/drop/", { body }));

export const removeList = (market: string, name: string) =>
  answerOf(
    client.DELETE("/api/word-lists/list/", { params: { query: { market, name } } }).then(done),
  );
