import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, type Choice, client, type Kind, type Schemas } from "./client";

export const SHORTLIST = ["desk", "shortlist"] as const;
export const SIEVES = ["desk", "sieves"] as const;
export const LENSES = ["desk", "lenses"] as const;

/** The researcher's own: sieves, lenses, decisions, notes. */
export const deskQueries = {
  /** The sieves that can be put to a kind. */
  sieves: (of: Kind) =>
    queryOptions({
      queryKey: [...SIEVES, of],
      queryFn: () => answerOf(client.GET("/api/desk/sieves/", { params: { query: { of } } })),
    }),
  lenses: (of: Kind) =>
    queryOptions({
      queryKey: [...LENSES, of],
      queryFn: () => answerOf(client.GET("/api/desk/lenses/", { params: { query: { of } } })),
    }),
  shortlist: (of: Kind, market: string | undefined, choice: Exclude<Choice, "open">[]) =>
    queryOptions({
      queryKey: [...SHORTLIST, of, market, choice],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => {
        const query = { of, ...(market ? { market } : {}), choice };
        return answerOf(client.GET("/api/desk/shortlist/", { params: { query }, signal }));
      },
    }),
};

/** An answer without content is a success all the same. */
export const done = ({ error, response }: { error?: unknown; response: Response }) => ({
  data: response.ok ? true : undefined,
  error,
  response,
});

export const saveSieves = (sieves: { name: string; conditions: string[] }[]) =>
  answerOf(client.POST("/api/desk/sieves/", { body: sieves }));

export const removeSieve = (name: string) =>
  answerOf(client.DELETE("/api/desk/sieves/", { params: { query: { name } } }).then(done));

export const saveLens = (of: Kind, name: string, weights: Record<string, number>) =>
  answerOf(client.POST("/api/desk/lenses/", { body: { of, name, weights, purpose: "" } }));

export const removeLens = (of: Kind, name: string) =>
  answerOf(client.DELETE("/api/desk/lenses/", { params: { query: { of, name } } }).then(done));

export const saveRemark = (body: Schemas["RemarkRequestRequest"]) =>
  answerOf(client.PUT("/api/desk/remarks/", { body }));

export const saveReason = (body: Schemas["ReasonRequestRequest"]) =>
  answerOf(client.PUT("/api/desk/decisions/reason/", { body }));

export const saveOrder = (of: Kind, market_id: string, ids: string[]) =>
  answerOf(client.PUT("/api/desk/shortlist/order/", { body: { market_id, of, ids } }).then(done));

export const saveFees = (body: Schemas["FeesRequestRequest"]) =>
  answerOf(client.PUT("/api/desk/fees/", { body }));
