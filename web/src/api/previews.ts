import { queryOptions } from "@tanstack/vue-query";
import {
  answerOf,
  CATEGORIES,
  client,
  type Kind,
  NICHES,
  type NichePreview,
  type Schemas,
  type SubjectPreview,
} from "./client";

export const PREVIEWS = ["preview"] as const;

const key = (of: Kind, market: string, id: string) => [...PREVIEWS, of, market, id] as const;

export type Category = Schemas["CategoryAtAGlance"];

const readCategory = (market: string, category: string, signal: AbortSignal): Promise<Category> =>
  answerOf(
    client.GET("/api/catalogue/category/", { params: { query: { market, category } }, signal }),
  );

export const previewQueries = {
  niche: (market: string, niche: string) =>
    queryOptions<NichePreview>({
      queryKey: key(NICHES, market, niche),
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/niche/", { params: { query: { market, niche } }, signal })),
    }),
  category: (market: string, category: string) =>
    queryOptions<Category>({
      queryKey: key(CATEGORIES, market, category),
      queryFn: ({ signal }) => readCategory(market, category, signal),
    }),
  /** A niche or a term; of a category what a note and a decision need of it. */
  of: (of: Kind, market: string, id: string) =>
    queryOptions<SubjectPreview>({
      queryKey: key(of, market, id),
      queryFn: async ({ signal }) =>
        of === CATEGORIES
          ? ((await readCategory(market, id, signal)) as unknown as SubjectPreview)
          : of === NICHES
            ? answerOf(
                client.GET("/api/niche/", { params: { query: { market, niche: id } }, signal }),
              )
            : answerOf(
                client.GET("/api/terms/term/", { params: { query: { market, term: id } }, signal }),
              ),
    }),
};
