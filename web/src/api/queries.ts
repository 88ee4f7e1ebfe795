import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, type MaybeRefOrGetter, toValue } from "vue";
import type { NichesAsk } from "@/shared/useFieldState";
import { answerOf, client, NICHES, type Schemas } from "./client";
import type { paths } from "./schema";

export type CurveKey = NonNullable<
  paths["/api/niche/curves/"]["get"]["parameters"]["query"]["curve"]
>[number];

export const useMarkets = () =>
  useQuery({ queryKey: ["markets"], queryFn: () => answerOf(client.GET("/api/markets/")) });

export const useFigures = () =>
  useQuery({ queryKey: ["figures"], queryFn: () => answerOf(client.GET("/api/figures/")) });

export const SIEVES = ["sieves"];
export const useSieves = () =>
  useQuery({ queryKey: SIEVES, queryFn: () => answerOf(client.GET("/api/desk/sieves/")) });

export const saveSieves = (sieves: { name: string; conditions: string[] }[]) =>
  answerOf(client.POST("/api/desk/sieves/", { body: sieves }));

/** An answer without content is a success all the same. */
const done = ({ error, response }: { error?: unknown; response: Response }) => ({
  data: response.ok ? true : undefined,
  error,
  response,
});

export const removeSieve = (name: string) =>
  answerOf(client.DELETE("/api/desk/sieves/", { params: { query: { name } } }).then(done));

export const useParts = () =>
  useQuery({ queryKey: ["parts"], queryFn: () => answerOf(client.GET("/api/parts/")) });

export const LENSES = ["lenses"];
export const useLenses = () =>
  useQuery({ queryKey: LENSES, queryFn: () => answerOf(client.GET("/api/desk/lenses/")) });

export const saveLens = (name: string, weights: Record<string, number>) =>
  answerOf(client.POST("/api/desk/lenses/", { body: { name, weights } }));

export const removeLens = (name: string) =>
  answerOf(client.DELETE("/api/desk/lenses/", { params: { query: { name } } }).then(done));

export const useSignals = () =>
  useQuery({ queryKey: ["signals"], queryFn: () => answerOf(client.GET("/api/signals/")) });

export function useCategories(market: MaybeRefOrGetter<string | undefined>) {
  const query = computed(() => ({ market: toValue(market) }));
  return useQuery({
    queryKey: ["categories", query],
    enabled: computed(() => Boolean(query.value.market)),
    queryFn: () => answerOf(client.GET("/api/categories/", { params: { query: query.value } })),
  });
}

/** A condition as it was typed, read by the server; ApiError when it is none. */
export const readCondition = (text: string) =>
  answerOf(client.GET("/api/ledger/condition/", { params: { query: { text } } }));

/** How a figure is spread over the niches that pass some conditions. */
export function useSpread(
  market: MaybeRefOrGetter<string | undefined>,
  figure: MaybeRefOrGetter<string>,
  conditions: MaybeRefOrGetter<string[]>,
) {
  const query = computed(() => ({
    market: toValue(market),
    figure: toValue(figure),
    c: toValue(conditions),
  }));
  return useQuery({
    queryKey: ["spread", query],
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/ledger/distribution/", { params: { query: query.value }, signal })),
  });
}

/** One niche close up; the one before stays until the next is there. */
export function usePreview(
  market: MaybeRefOrGetter<string | undefined>,
  niche: MaybeRefOrGetter<string | undefined>,
) {
  return useQuery(
    computed(() => ({
      ...previewOf(toValue(market) ?? "", toValue(niche) ?? ""),
      enabled: Boolean(toValue(market) && toValue(niche)),
      placeholderData: keepPreviousData,
    })),
  );
}

/** The same query for a card and for the one that is fetched ahead of it. */
const ofNiche = (market: string, niche: string) => ({ params: { query: { market, niche } } });

export const previewOf = (market: string, niche: string) => ({
  queryKey: ["preview", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/", { ...ofNiche(market, niche), signal })),
});

export const termsOf = (market: string, niche: string) => ({
  queryKey: ["terms", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/terms/", { ...ofNiche(market, niche), signal })),
});

export const listingsOf = (market: string, niche: string) => ({
  queryKey: ["listings", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/listings/", { ...ofNiche(market, niche), signal })),
});

/** Lists of a hundred thousand: neither watched nor compared element by element. */
const LONG = { shallow: true, structuralSharing: false } as const;

/** The dossier's questions, a query each, so that they come side by side. */
export const outlookOf = (market: string, niche: string) => ({
  queryKey: ["outlook", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/demand/", { ...ofNiche(market, niche), signal })),
});

export const curvesOf = (market: string, niche: string) => ({
  queryKey: ["curves", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/curves/", { ...ofNiche(market, niche), signal })),
});

/** Some curves with the calendar taken out of those that have one. */
export const calmCurvesOf = (market: string, niche: string, curve: CurveKey[]) => ({
  queryKey: ["calm curves", market, niche, curve],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(
      client.GET("/api/niche/curves/", {
        params: { query: { market, niche, curve, season: "out" } },
        signal,
      }),
    ),
});

export const holdersOf = (market: string, niche: string) => ({
  queryKey: ["holders", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/holders/", { ...ofNiche(market, niche), signal })),
});

export const listingHistoryOf = (market: string, niche: string, listing: string) => ({
  queryKey: ["listing", market, niche, listing],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(
      client.GET("/api/niche/listings/history/", {
        params: { query: { market, niche, listing } },
        signal,
      }),
    ),
});

export const typedOf = (market: string, niche: string) => ({
  queryKey: ["typed", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/terms/detail/", { ...ofNiche(market, niche), signal })),
});

export const destinationsOf = (market: string, niche: string, term: string) => ({
  queryKey: ["destinations", market, niche, term],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(
      client.GET("/api/niche/terms/destinations/", {
        params: { query: { market, niche, term } },
        signal,
      }),
    ),
});

export const saidOf = (market: string, niche: string) => ({
  queryKey: ["said", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/feedback/", { ...ofNiche(market, niche), signal })),
});

export const queueOf = (ask: NichesAsk) => ({
  queryKey: ["queue", ask],
  staleTime: Infinity,
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/ledger/ids/", { params: { query: ask }, signal })),
});

/** Ids of all niches that are asked for; the list stands while it is worked through. */
export const useQueue = (ask: MaybeRefOrGetter<NichesAsk>) =>
  useQuery(computed(() => ({ ...queueOf(toValue(ask)), ...LONG })));

/** The niches that are asked for as points of the chart; the ones before stay until they come. */
export function usePoints(ask: MaybeRefOrGetter<NichesAsk>) {
  return useQuery({
    queryKey: ["points", computed(() => toValue(ask))],
    ...LONG,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/ledger/points/", { params: { query: toValue(ask) }, signal })),
  });
}

/** Faults that were noted; asked for anew each time, for one comes to look at the latest. */
export const useFaults = () =>
  useQuery({
    queryKey: ["faults"],
    staleTime: 0,
    queryFn: ({ signal }) => answerOf(client.GET("/api/faults/", { signal })),
  });

export const SHORTLIST = ["shortlist"];
export function useShortlist(
  market: MaybeRefOrGetter<string | undefined>,
  choices: MaybeRefOrGetter<("keep" | "park" | "pass")[]>,
) {
  const query = computed(() => ({ market: toValue(market), choice: toValue(choices) }));
  return useQuery({
    queryKey: [...SHORTLIST, query],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/desk/shortlist/", { params: { query: query.value }, signal })),
  });
}

export const saveRemark = (body: Schemas["RemarkRequestRequest"]) =>
  answerOf(client.PUT("/api/desk/remarks/", { body }));

export const saveOrder = (market_id: string, ids: string[]) =>
  answerOf(
    client.PUT("/api/desk/shortlist/order/", { body: { market_id, of: NICHES, ids } }).then(done),
  );

/** The niche names and terms that hold some words, most headroom first. */
export function useFound(
  market: MaybeRefOrGetter<string | undefined>,
  words: MaybeRefOrGetter<string>,
) {
  const query = computed(() => ({
    market: toValue(market),
    c: [`terms hold ${toValue(words).trim()}`],
    limit: 8,
  }));
  return useQuery({
    queryKey: ["found", query],
    enabled: computed(() => toValue(words).trim().length > 1),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/ledger/", { params: { query: query.value }, signal })),
  });
}

export const saveReason = (body: Schemas["ReasonRequestRequest"]) =>
  answerOf(client.PUT("/api/desk/decisions/reason/", { body }));

export const reckoningOf = (market: string, niche: string) => ({
  queryKey: ["reckoning", market, niche],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answerOf(client.GET("/api/niche/costs/", { ...ofNiche(market, niche), signal })),
});

export const saveCosts = (body: Schemas["ReckoningRequestRequest"]) =>
  answerOf(client.PUT("/api/niche/costs/", { body }));

export const saveFees = (body: Schemas["FeesRequestRequest"]) =>
  answerOf(client.PUT("/api/desk/fees/", { body }));

const atWork = (job: Schemas["JobRow"] | undefined): boolean =>
  job?.state === "waiting" || job?.state === "running";

/** Long work, the latest first; looked at again and again while there is some. */
export const useJobs = () =>
  useQuery<Schemas["JobRow"][]>({
    queryKey: ["jobs"],
    staleTime: 0,
    refetchInterval: (query) => (atWork(query.state.data?.[0]) ? 500 : false),
    queryFn: ({ signal }) => answerOf(client.GET("/api/intake/jobs/", { signal })),
  });

export const useBatches = () =>
  useQuery({
    queryKey: ["batches"],
    staleTime: 0,
    queryFn: ({ signal }) => answerOf(client.GET("/api/intake/batches/", { signal })),
  });

const ofJob = (id: number) => ({ params: { path: { id } } });
export const stopJob = (id: number) =>
  answerOf(client.POST("/api/intake/jobs/{id}/stop/", ofJob(id)));
export const goOnWith = (id: number) =>
  answerOf(client.POST("/api/intake/jobs/{id}/resume/", ofJob(id)));
export const importChecked = (id: number) =>
  answerOf(client.POST("/api/intake/jobs/{id}/import/", ofJob(id)));
export const undoBatch = (id: number) =>
  answerOf(client.POST("/api/intake/batches/{id}/undo/", ofJob(id)));

/** What one import brought. */
export const useBatchCoverage = (id: number) =>
  useQuery({
    queryKey: ["batches", id, "coverage"],
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/intake/batches/{id}/coverage/", { ...ofJob(id), signal })),
  });

export const useBatchRevisions = (id: number) =>
  useQuery({
    queryKey: ["batches", id, "revisions"],
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/intake/batches/{id}/revisions/", { ...ofJob(id), signal })),
  });

export const FEED = ["feed"];
/** The market feed and when it is asked. */
export const useFeed = () =>
  useQuery({ queryKey: FEED, queryFn: () => answerOf(client.GET("/api/intake/feed/")) });
export const setFeed = (every_hours: Schemas["FeedWantedRequest"]["every_hours"]) =>
  answerOf(client.PUT("/api/intake/feed/", { body: { every_hours } }));
export const pullFeed = () => answerOf(client.POST("/api/intake/feed/pull/"));

export type Mapping = Schemas["MappingRowRequest"];
const ofFolder = (folder: string) => ({ params: { path: { folder } } });
/** What was handed over, by layout. */
export const lookThrough = (folder: string) =>
  answerOf(client.GET("/api/intake/uploads/{folder}/", ofFolder(folder)));
/** What a mapping makes of the first rows; with `afresh` another one is proposed for its table. */
export const tryMapping = (folder: string, layout: string, mapping: Mapping, afresh: boolean) =>
  answerOf(
    client.POST("/api/intake/uploads/{folder}/try/", {
      ...ofFolder(folder),
      body: { layout, mapping, afresh },
    }),
  );
export const useExchangeTables = () =>
  useQuery({
    queryKey: ["exchange-tables"],
    queryFn: () => answerOf(client.GET("/api/intake/exchange-tables/")),
  });
export const checkFiles = (
  incoming: string,
  name: string,
  mappings: Schemas["LayoutWantedRequest"][],
  market: string,
) =>
  answerOf(
    client.POST("/api/intake/jobs/", { body: { kind: "check", incoming, name, mappings, market } }),
  );

export type CoverageAsk = { market?: string; niche?: string; category?: string };
/** What is known of a market or a niche. */
export function useCoverage(
  ask: MaybeRefOrGetter<CoverageAsk>,
  enabled: MaybeRefOrGetter<boolean>,
) {
  const query = computed(() => toValue(ask));
  return useQuery<Schemas["CoverageRow"][]>({
    queryKey: ["coverage", query],
    enabled: computed(() => toValue(enabled)),
    queryFn: ({ signal }) =>
      answerOf(client.GET("/api/intake/coverage/", { params: { query: query.value }, signal })),
  });
}
