import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

const key = (part: string, market: string, niche: string, ...more: unknown[]) =>
  ["niche", part, market, niche, ...more] as const;

export const COSTS = ["niche", "costs"] as const;
export const VOICES = ["niche", "voices"] as const;

/** The questions of a niche’s dossier, a query each, so that they come side by side. */
export const nicheQueries = {
  /** Words for a listing, fitted into a length. */
  words: (market: string, niche: string, length: number, first: string) =>
    queryOptions({
      queryKey: ["niche", market, niche, "words", length, first],
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/niche/words/", {
            params: { query: { market, niche, length, ...(first ? { first } : {}) } },
            signal,
          }),
        ),
    }),
  terms: (market: string, niche: string) =>
    queryOptions({
      queryKey: key("terms", market, niche),
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/niche/terms/", { params: { query: { market, niche } }, signal })),
    }),
  listings: (market: string, niche: string) =>
    queryOptions({
      queryKey: key("listings", market, niche),
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/niche/listings/", { params: { query: { market, niche } }, signal }),
        ),
    }),
  demand: (market: string, niche: string) =>
    queryOptions({
      queryKey: key("demand", market, niche),
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/niche/demand/", { params: { query: { market, niche } }, signal }),
        ),
    }),
  holders: (market: string, niche: string) =>
    queryOptions({
      queryKey: key("holders", market, niche),
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/niche/holders/", { params: { query: { market, niche } }, signal }),
        ),
    }),
  /** Who held the lead offers on its goods in a month; by default in its last season. */
  leads: (market: string, niche: string, month: string) =>
    queryOptions<Schemas["LeadHolders"]>({
      queryKey: key("leads", market, niche, month),
      retry: false,
      placeholderData: (before, query) => (query?.queryKey[2] === niche ? before : undefined),
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/niche/leads/", { params: { query: { market, niche, month } }, signal }),
        ),
    }),
  listingHistory: (market: string, niche: string, listing: string) =>
    queryOptions({
      queryKey: key("listing", market, niche, listing),
      queryFn: ({ signal }) => {
        const query = { market, niche, listing };
        return answerOf(client.GET("/api/niche/listings/history/", { params: { query }, signal }));
      },
    }),
  /** What buyers write: themes, questions, wishes, and what was decided on them. */
  voices: (market: string, niche: string, language = "") =>
    queryOptions<Schemas["NicheVoices"]>({
      queryKey: [...VOICES, market, niche, language],
      placeholderData: (before, query) =>
        query?.queryKey[2] === market && query.queryKey[3] === niche ? before : undefined,
      queryFn: ({ signal }) => {
        const query = { market, niche, ...(language ? { language } : {}) };
        return answerOf(client.GET("/api/niche/voices/", { params: { query }, signal }));
      },
    }),
  /** All sentences that say a theme, a page of them. */
  voiceSentences: (
    market: string,
    niche: string,
    language: string,
    theme: string,
    offset: number,
  ) =>
    queryOptions<Schemas["VoiceSentences"]>({
      queryKey: [...VOICES, "sentences", market, niche, language, theme, offset],
      placeholderData: (before, query) => (query?.queryKey[6] === theme ? before : undefined),
      queryFn: ({ signal }) => {
        const query = { market, niche, language, theme, offset };
        return answerOf(client.GET("/api/niche/voices/sentences/", { params: { query }, signal }));
      },
    }),
  termsDetail: (market: string, niche: string) =>
    queryOptions({
      queryKey: key("terms detail", market, niche),
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/niche/terms/detail/", { params: { query: { market, niche } }, signal }),
        ),
    }),
  destinations: (market: string, niche: string, term: string) =>
    queryOptions({
      queryKey: key("destinations", market, niche, term),
      queryFn: ({ signal }) => {
        const query = { market, niche, term };
        return answerOf(
          client.GET("/api/niche/terms/destinations/", { params: { query }, signal }),
        );
      },
    }),
  feedback: (market: string, niche: string) =>
    queryOptions({
      queryKey: key("feedback", market, niche),
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/niche/feedback/", { params: { query: { market, niche } }, signal }),
        ),
    }),
  costs: (market: string, niche: string) =>
    queryOptions({
      queryKey: key("costs", market, niche),
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/niche/costs/", { params: { query: { market, niche } }, signal })),
    }),
};

export const saveCosts = (body: Schemas["CostsRequestRequest"]) =>
  answerOf(client.PUT("/api/niche/costs/", { body }));

export const decideTheme = (body: Schemas["ThemeActRequestRequest"]) =>
  answerOf(client.POST("/api/desk/themes/", { body }));

export const undoTheme = (key: number) =>
  answerOf(client.POST("/api/desk/themes/undo/", { body: { key } }));

export const pinSentence = (body: Schemas["PinRequestRequest"]) =>
  answerOf(client.POST("/api/desk/pins/", { body }));

export const unpinSentence = (key: number) =>
  answerOf(client.POST("/api/desk/pins/undo/", { body: { key } }));
