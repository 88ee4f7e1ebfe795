import { queryOptions } from "@tanstack/vue-query";
import {
  answerOf,
  client,
  type Kind,
  NICHES,
  type NichePreview,
  type SubjectPreview,
} from "./client";

export const PREVIEWS = ["preview"] as const;

const key = (of: Kind, market: string, id: string) => [...PREVIEWS, of, market, id] as const;

export const previewQueries = {
  niche: (market: string, niche: string) =>
    queryOptions<NichePreview>({
      queryKey: key(NICHES, market, niche),
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/niche/", { params: { query: { market, niche } }, signal })),
    }),
  /** A niche or a term. */
  of: (of: Kind, market: string, id: string) =>
    queryOptions<SubjectPreview>({
      queryKey: key(of, market, id),
      queryFn: ({ signal }) =>
        of === NICHES
          ? answerOf(
              client.GET("/api/niche/", { params: { query: { market, niche: id } }, signal }),
            )
          : answerOf(
              client.GET("/api/terms/term/", { params: { query: { market, term: id } }, signal }),
            ),
    }),
};
