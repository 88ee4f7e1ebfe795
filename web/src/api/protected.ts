import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";
import { done } from "./desk";

export type ProtectedRow = Schemas["ProtectedRow"];

export const protectedQueries = {
  /** The words one must not sell under, with what holds each in a market. */
  words: (market: string | undefined) =>
    queryOptions({
      queryKey: ["protected words", market],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/protected-words/", {
            params: { query: market ? { market } : {} },
            signal,
          }),
        ),
    }),
};

export const protectWord = (body: Schemas["ProtectRequestRequest"]) =>
  answerOf(client.POST("/api/protected-words/", { body }));

export const releaseWord = (word: string) =>
  answerOf(client.DELETE("/api/protected-words/", { params: { query: { word } } }).then(done));
