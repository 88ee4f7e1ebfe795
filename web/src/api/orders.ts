import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";
import { PLANS } from "./plans";

export type Orders = Schemas["Orders"];
export type OrderAmongOthers = Schemas["OrderAmongOthers"];

export const orderQueries = {
  /** All plans of a market on one cash path; `taken`: which are added up, as keys with commas or “none”, else what is
   *  proposed. */
  all: (market: string, taken = "") =>
    queryOptions({
      queryKey: [...PLANS, "orders", market, taken],
      staleTime: 0,
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/desk/orders/", {
            params: { query: { market, with: taken || undefined } },
            signal,
          }),
        ),
    }),
};

export const keepCash = (body: Schemas["PurseRequestRequest"]) =>
  answerOf(client.POST("/api/desk/orders/cash/", { body }));
