import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";
import { VOICES } from "./niche";
import type { operations } from "./schema";

export type ListingPreview = Schemas["ListingPreview"];
export type ListingPage = Schemas["ListingPage"];

export const readListing = (
  market: string,
  listing: string,
  signal?: AbortSignal,
): Promise<ListingPreview> =>
  answerOf(
    client.GET("/api/rivals/listing/", {
      params: { query: { market, listing } },
      ...(signal ? { signal } : {}),
    }),
  );

export type HolderPage = Schemas["HolderPage"];
export type HolderGood = Schemas["HolderGood"];
export type HolderPreview = Schemas["BrandPreview"] | Schemas["SellerPreview"];

type Only = "came" | "went" | "asleep" | undefined;

export const readBrand = (market: string, brand: string, signal: AbortSignal) =>
  answerOf(client.GET("/api/rivals/brand/", { params: { query: { market, brand } }, signal }));

export const readSeller = (market: string, seller: string, signal: AbortSignal) =>
  answerOf(client.GET("/api/rivals/seller/", { params: { query: { market, seller } }, signal }));

type OwnAsked = NonNullable<operations["own_goods"]["parameters"]["query"]>;
type TogetherAsked = operations["together"]["parameters"]["query"];

/** Which sellers of a market are one's own. */
export const ownQuery = (market: string | undefined) =>
  queryOptions({
    queryKey: ["own sellers", market],
    enabled: market !== undefined,
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/rivals/own/", { params: { query: { market } }, signal })),
  });

export const chooseOwn = (market_id: string, seller: string, own: boolean) =>
  answerOf(client.POST("/api/rivals/own/", { body: { market_id, seller, own } }));

export const rivalsQueries = {
  /** What buyers say of a listing, a brand’s or a seller’s, against the others of their niches. */
  voices: (market: string, of: "listings" | "brands" | "sellers", id: string) =>
    queryOptions<Schemas["VoicesBeside"][]>({
      queryKey: [...VOICES, "beside", market, of, id],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/rivals/voices/", { params: { query: { market, of, id } }, signal }),
        ),
    }),
  /** One's own goods, and which of them to order again. */
  ownGoods: (query: OwnAsked) =>
    queryOptions<Schemas["OwnGoodsAnswer"]>({
      queryKey: ["own goods", query],
      placeholderData: (before) => before,
      retry: false,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/rivals/own/goods/", { params: { query }, signal })),
    }),
  /** What several sellers carry together. */
  together: (query: TogetherAsked) =>
    queryOptions<Schemas["Together"]>({
      queryKey: ["together", query],
      placeholderData: (before) => before,
      retry: false,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/rivals/together/", { params: { query }, signal })),
    }),
  /** What a brand or a seller has on sale now, on a day or ever, and who is behind it. */
  holder: (kind: "brand" | "seller", market: string, id: string, when: string, only: string) =>
    queryOptions<HolderPage>({
      queryKey: ["goods", kind, market, id, when, only],
      placeholderData: (before, query) => (query?.queryKey[3] === id ? before : undefined),
      queryFn: ({ signal }) =>
        kind === "brand"
          ? answerOf(
              client.GET("/api/rivals/brand/page/", {
                params: { query: { market, brand: id, when, only: (only || undefined) as Only } },
                signal,
              }),
            )
          : answerOf(
              client.GET("/api/rivals/seller/page/", {
                params: { query: { market, seller: id, when, only: (only || undefined) as Only } },
                signal,
              }),
            ),
    }),
  /** A listing's past, its sellers, the terms that lead to it, and others of its niche. */
  page: (market: string, listing: string) =>
    queryOptions({
      queryKey: ["listing page", market, listing],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/rivals/listing/page/", {
            params: { query: { market, listing } },
            signal,
          }),
        ),
    }),
};
