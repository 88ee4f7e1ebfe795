import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";
import type { operations } from "./schema";

type IcicleSize = NonNullable<
  NonNullable<operations["catalogue_icicle"]["parameters"]["query"]>["figure"]
>;

export type TreeRow = Schemas["CategoryTreeRow"];
export type CategoryTree = Schemas["CategoryTree"];
export type CategorySold = Schemas["CategorySold"];
export type CategoryPoint = Schemas["CategoryPoint"];
export type IciclePiece = Schemas["IciclePiece"];
export type FigureRange = Schemas["FigureRange"];
export type RevenueHolders = Schemas["RevenueHolders"];

/** What a tree is asked with besides its market. */
export interface TreeAsk {
  open: string[];
  sort: string;
  find: string;
  c: string[];
  figures: string;
  /** Weights that differ from those of the settings. */
  lens: string;
}

const CATALOGUE = ["catalogue"];
/** What the keys of all trees begin with. */
export const TREES = [...CATALOGUE, "tree"];

export const catalogueQueries = {
  /** The tree with what is open in it; the one before stays until it comes. */
  tree: (market: string | undefined, ask: TreeAsk) =>
    queryOptions({
      queryKey: [...TREES, market, ask],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/catalogue/", {
            params: { query: { ...(market ? { market } : {}), ...ask } },
            signal,
          }),
        ),
      placeholderData: keepPreviousData,
    }),
  /** Openness against settledness. */
  points: (market: string, lens: string) =>
    queryOptions({
      queryKey: [...CATALOGUE, "points", market, lens],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/catalogue/points/", { params: { query: { market, lens } }, signal }),
        ),
    }),
  /** The tree as pieces as large as their shares, under a category or under none. */
  icicle: (market: string, figure: IcicleSize, under: string) =>
    queryOptions({
      queryKey: [...CATALOGUE, "icicle", market, figure, under],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/catalogue/icicle/", {
            params: { query: { market, figure, ...(under ? { under } : {}) } },
            signal,
          }),
        ),
    }),
  sold: (market: string, category: string) =>
    queryOptions({
      queryKey: [...CATALOGUE, "sold", market, category],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/catalogue/sold/", { params: { query: { market, category } }, signal }),
        ),
    }),
  ranges: (market: string, category: string) =>
    queryOptions({
      queryKey: [...CATALOGUE, "ranges", market, category],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/catalogue/ranges/", {
            params: { query: { market, category } },
            signal,
          }),
        ),
    }),
};
