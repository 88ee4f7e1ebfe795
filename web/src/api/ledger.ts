import { keepPreviousData, queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Kind, NICHES } from "./client";
import { unpackPoints } from "./points";
import type { Seed } from "./terms";

/** What rows are asked with: kind, seed, conditions, lens and order, as the API takes them. */
export interface RowsQuery extends Partial<Seed> {
  of?: Kind | undefined;
  market?: string | undefined;
  /** Conditions as their texts. */
  c?: string[] | undefined;
  /** Whether near misses come among the rows. */
  near?: "yes" | undefined;
  /** Weights that differ from the default lens's. */
  lens?: string | undefined;
  sort: string;
}

/** What the ledger is asked, and the figures its rows carry besides. */
export interface LedgerQuery extends RowsQuery {
  figures?: string | undefined;
}

/** Rows of a page of the ledger. */
export const PAGE = 100;
const FOUND = 8;

/** The condition that asks for words, whatever they are. */
export const containing = (words: string): string =>
  `terms contain "${words.trim().replace(/["“”]/g, " ")}"`;

/** Keys of what shows decisions, for writing them into what is there already. */
export const LEDGER_KEYS = {
  pages: ["ledger", "page"],
  ids: ["ledger", "ids"],
  points: ["ledger", "points"],
} as const;

/** Lists of a hundred thousand: neither watched nor compared element by element. */
const LONG = { shallow: true, structuralSharing: false } as const;

export const ledgerQueries = {
  page: (query: LedgerQuery, page: number) =>
    queryOptions({
      queryKey: [...LEDGER_KEYS.pages, query, page],
      queryFn: ({ signal }) =>
        answerOf(
          client.GET("/api/ledger/", {
            params: { query: { ...query, offset: page * PAGE, limit: PAGE } },
            signal,
          }),
        ),
    }),
  /** The place of a row among all, by its id; null where it is not among them. */
  place: (query: RowsQuery, id: string) =>
    queryOptions({
      queryKey: ["ledger", "place", query, id],
      staleTime: 0,
      queryFn: async () => {
        const asked = { ...query, find: id, limit: 1 };
        return (await answerOf(client.GET("/api/ledger/", { params: { query: asked } }))).found;
      },
    }),
  /** Ids of all that is asked for; the list stands while it is worked through. */
  ids: (query: RowsQuery) =>
    queryOptions({
      queryKey: [...LEDGER_KEYS.ids, query],
      ...LONG,
      staleTime: Infinity,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/ledger/ids/", { params: { query }, signal })),
    }),
  /** The same as they are now, whatever list is being worked through. */
  idsNow: (query: RowsQuery) =>
    queryOptions({
      queryKey: ["ledger", "ids now", query],
      staleTime: 0,
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/ledger/ids/", { params: { query }, signal })),
    }),
  /** What is asked for as points of the chart; the ones before stay until they come. */
  points: (query: RowsQuery) =>
    queryOptions({
      queryKey: [...LEDGER_KEYS.points, query],
      ...LONG,
      placeholderData: keepPreviousData,
      queryFn: async ({ signal }) => {
        const asked = { params: { query: { ...query, as: "packed" as const } }, signal };
        return unpackPoints(
          await answerOf(client.GET("/api/ledger/points/", { ...asked, parseAs: "arrayBuffer" })),
        );
      },
    }),
  /** How a figure is spread over what passes some conditions. */
  distribution: (query: { of: Kind; market?: string; figure: string; c: string[] }) =>
    queryOptions({
      queryKey: ["ledger", "distribution", query],
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/ledger/distribution/", { params: { query }, signal })),
    }),
  /** What a text that is typed is read as, and what can be typed next. */
  condition: (of: Kind, market: string | undefined, text: string) =>
    queryOptions({
      queryKey: ["ledger", "condition", of, market, text],
      staleTime: Infinity,
      // Not broken off when another text is asked for: what was typed may be added all the same.
      queryFn: () => {
        const query = { ...(market ? { market } : {}), of, text };
        return answerOf(client.GET("/api/ledger/condition/", { params: { query } }));
      },
    }),
  /** The niches whose name or a term of which contains some words, most headroom first. */
  found: (market: string | undefined, words: string, of: Kind = NICHES) =>
    queryOptions({
      queryKey: ["ledger", "found", market, words.trim(), of],
      enabled: words.trim().length > 1,
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) => {
        const query = {
          ...(market ? { market } : {}),
          c: [containing(words)],
          limit: FOUND,
          of,
        };
        return answerOf(client.GET("/api/ledger/", { params: { query }, signal }));
      },
    }),
};
