import { queryOptions } from "@tanstack/vue-query";
import {
  answerOf,
  BRANDS,
  CATEGORIES,
  client,
  type Kind,
  LISTINGS,
  NICHES,
  SELLERS,
  TERMS,
  type NichePreview,
  type Schemas,
  type SubjectPreview,
} from "./client";
import { readBrand, readListing, readSeller } from "./rivals";

export const PREVIEWS = ["preview"] as const;

const key = (of: Kind, market: string, id: string) => [...PREVIEWS, of, market, id] as const;

export type Category = Schemas["CategoryAtAGlance"];

/** What is set side by side. */
export type Compared = Pick<
  SubjectPreview,
  | "id"
  | "name"
  | "category"
  | "decision"
  | "note"
  | "lead_days"
  | "period"
  | "first"
  | "values"
  | "years"
  | "signals"
  | "verdict"
  | "dates"
> & { figures: Pick<SubjectPreview["figures"], ComparedFigure> };
type ComparedFigure = "season_profile" | "growth_13w_season" | "growth_13w_drift" | "planning_date";

/** What a category has in common with niches and terms; its answers are its verdict. */
function comparedCategory(one: Category): Compared {
  const { searches } = one;
  return {
    ...one,
    category: one.above.map(({ name }) => name).join(" › "),
    period: searches?.period ?? "week",
    first: searches?.first ?? "",
    values: searches?.values ?? [],
    signals: [],
    verdict: [...one.openness, ...one.size, one.calendar, ...one.newness, ...one.holders],
    dates: [],
  };
}

const readCategory = (
  market: string,
  category: string,
  signal: AbortSignal,
  lens = "",
): Promise<Category> =>
  answerOf(
    client.GET("/api/catalogue/category/", {
      params: { query: { market, category, lens } },
      signal,
    }),
  );

/** How one of a kind is read. */
const READ: Record<Kind, (market: string, id: string, signal: AbortSignal) => Promise<unknown>> = {
  [NICHES]: (market, niche, signal) =>
    answerOf(client.GET("/api/niche/", { params: { query: { market, niche } }, signal })),
  [TERMS]: (market, term, signal) =>
    answerOf(client.GET("/api/terms/term/", { params: { query: { market, term } }, signal })),
  [CATEGORIES]: readCategory,
  [LISTINGS]: readListing,
  [BRANDS]: readBrand,
  [SELLERS]: readSeller,
};

export const previewQueries = {
  niche: (market: string, niche: string) =>
    queryOptions<NichePreview>({
      queryKey: key(NICHES, market, niche),
      queryFn: ({ signal }) =>
        answerOf(client.GET("/api/niche/", { params: { query: { market, niche } }, signal })),
    }),
  /** A category, as the lens has it that weighs openness and settledness; by default the settings' own. */
  category: (market: string, category: string, lens = "") =>
    queryOptions<Category>({
      queryKey: [...key(CATEGORIES, market, category), ...(lens ? [lens] : [])],
      placeholderData: (before) => (before?.id === category ? before : undefined),
      queryFn: ({ signal }) => readCategory(market, category, signal, lens),
    }),
  /** A row of any kind as it is set side by side. */
  compared: (of: Kind, market: string, id: string) =>
    of === CATEGORIES
      ? queryOptions({ ...previewQueries.category(market, id), select: comparedCategory })
      : previewQueries.of(of, market, id),
  /** A niche or a term; of another kind what they have in common with these. */
  of: (of: Kind, market: string, id: string) =>
    queryOptions<SubjectPreview>({
      queryKey: key(of, market, id),
      queryFn: async ({ signal }) => (await READ[of](market, id, signal)) as SubjectPreview,
    }),
};
