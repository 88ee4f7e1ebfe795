import { queryOptions } from "@tanstack/vue-query";
import { answerOf, client, type Schemas } from "./client";

export type Mapping = Schemas["MappingRowRequest"];
export type CoverageQuery = { market?: string; niche?: string; category?: string };

const LOOK_AGAIN = 500; // Milliseconds, while a job is running.

const running = (job: Schemas["JobRow"] | undefined): boolean =>
  job?.state === "waiting" || job?.state === "running";

const ofJob = (id: number) => ({ params: { path: { id } } });
const ofFolder = (folder: string) => ({ params: { path: { folder } } });

/** Imports, the jobs that do them, the feed, and what is known of a market. */
export const intakeQueries = {
  /** Long work, the latest first; looked at again and again while there is some. */
  jobs: () =>
    queryOptions<Schemas["JobRow"][]>({
      queryKey: ["intake", "jobs"],
      staleTime: 0,
      refetchInterval: (query) => (running(query.state.data?.[0]) ? LOOK_AGAIN : false),
      queryFn: ({ signal }) => answerOf(client.GET("/api/intake/jobs/", { signal })),
    }),
  batches: () =>
    queryOptions({
      queryKey: ["intake", "batches"],
      staleTime: 0,
      queryFn: ({ signal }) => answerOf(client.GET("/api/intake/batches/", { signal })),
    }),
  /** What one import brought. */
  batchCoverage: (id: number) =>
    queryOptions({
      queryKey: ["intake", "batches", id, "coverage"],
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/intake/batches/{id}/coverage/", { ...ofJob(id), signal })),
    }),
  batchRevisions: (id: number) =>
    queryOptions({
      queryKey: ["intake", "batches", id, "revisions"],
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/intake/batches/{id}/revisions/", { ...ofJob(id), signal })),
    }),
  /** The market feed and when it is asked. */
  feed: () =>
    queryOptions({
      queryKey: ["intake", "feed"],
      queryFn: () => answerOf(client.GET("/api/intake/feed/")),
    }),
  exchangeTables: () =>
    queryOptions({
      queryKey: ["intake", "exchange tables"],
      queryFn: () => answerOf(client.GET("/api/intake/exchange-tables/")),
    }),
  /** The data coverage of a market or a niche. */
  coverage: (query: CoverageQuery) =>
    queryOptions({
      queryKey: ["intake", "coverage", query],
      enabled: Boolean(query.market),
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/intake/coverage/", { params: { query }, signal })),
    }),
};

export const stopJob = (id: number) =>
  answerOf(client.POST("/api/intake/jobs/{id}/stop/", ofJob(id)));
export const resumeJob = (id: number) =>
  answerOf(client.POST("/api/intake/jobs/{id}/resume/", ofJob(id)));
export const importChecked = (id: number) =>
  answerOf(client.POST("/api/intake/jobs/{id}/import/", ofJob(id)));
export const undoBatch = (id: number) =>
  answerOf(client.POST("/api/intake/batches/{id}/undo/", ofJob(id)));

export const setFeed = (every_hours: Schemas["FeedWantedRequest"]["every_hours"]) =>
  answerOf(client.PUT("/api/intake/feed/", { body: { every_hours } }));
export const pullFeed = () => answerOf(client.POST("/api/intake/feed/pull/"));

/** What was uploaded, by layout. */
export const readLayouts = (folder: string) =>
  answerOf(client.GET("/api/intake/uploads/{folder}/", ofFolder(folder)));
/** What a mapping makes of the first rows; with `afresh` another one is proposed for its table. */
export const tryMapping = (folder: string, layout: string, mapping: Mapping, afresh: boolean) =>
  answerOf(
    client.POST("/api/intake/uploads/{folder}/try/", {
      ...ofFolder(folder),
      body: { layout, mapping, afresh },
    }),
  );
export const checkFiles = (
  incoming: string,
  name: string,
  mappings: Schemas["LayoutWantedRequest"][],
  market: string,
) =>
  answerOf(
    client.POST("/api/intake/jobs/", { body: { kind: "check", incoming, name, mappings, market } }),
  );
