import type { FigureRow, Kind } from "@/api/client";
import type { Compared } from "@/api/previews";

/** What is set side by side, in the order one asks: worth it, wanted, lasting, paying, open. */
const COMPARED: { head: string; keys: string[] }[] = [
  {
    head: "Standing",
    keys: ["headroom", "rank", "demand", "competition", "openness", "settledness"],
  },
  {
    head: "What is in it",
    keys: ["counts.niches", "counts.terms", "counts.listings", "counts.brands", "counts.sellers"],
  },
  {
    head: "Demand",
    keys: ["searches_52w", "purchases_52w", "purchase_rate", "drift_rate_year", "growth_13w.drift"],
  },
  {
    head: "Calendar",
    keys: [
      "shape",
      "best13",
      "act.caught",
      "act.open_until",
      "order_by",
      "act.after_arrival_13w",
      "coverage",
    ],
  },
  {
    head: "Money",
    keys: [
      "sales.price_median",
      "sales.units_52w",
      "sales.revenue_52w",
      "sales.revenue_per_listing",
    ],
  },
  {
    head: "Who holds it",
    keys: [
      "review_barrier",
      "competition_parts.click_breadth",
      "competition_parts.top3_share",
      "competition_parts.top_brand_share",
      "lorenz.gini",
      "lorenz.share_for_80",
      "barriers.sponsored_clicks",
      "barriers.return_rate",
    ],
  },
  {
    head: "Newcomers",
    keys: [
      "newcomers.listings_26w",
      "newcomers.units_share_26w",
      "entry.launches_52w",
      "entry.success_rate",
      "entry.units_per_review",
    ],
  },
];

/** The figures of a kind that are set side by side, under their heads. */
export const comparedFigures = (of: Kind, registry: FigureRow[]) =>
  COMPARED.map(({ head, keys }) => ({
    head,
    figures: keys
      .map((key) => registry.find((one) => one.key === key && one.kinds.includes(of)))
      .filter((one) => one !== undefined),
  })).filter(({ figures }) => figures.length);

/** Columns between which a figure lies; what ranks by it lies between the ends of its band. */
const ENDS: Record<string, readonly [string, string]> = {
  headroom: ["rank_low", "rank_high"],
  rank: ["rank_low", "rank_high"],
  openness: ["openness_rank_low", "openness_rank_high"],
  settledness: ["settledness_rank_low", "settledness_rank_high"],
  drift_rate_year: ["drift_low", "drift_high"],
  growth_13w_drift: ["growth_13w_drift_low", "growth_13w_drift_high"],
  purchase_rate: ["purchase_rate_low", "purchase_rate_high"],
  entry_success_rate: ["entry_success_low", "entry_success_high"],
};

export interface ComparedCell {
  value: unknown;
  /** Whether no other is better, as far as intervals tell; none is where a figure is neither good nor bad. */
  best: boolean;
  /** Where it lies between the lowest and the highest of those compared, 0 to 1; null for no number. */
  at: number | null;
  /** Its interval or, for what is ranked by it, the band of its rank; null where there is none. */
  ends: readonly [number, number] | null;
  banded: boolean;
}

/** A figure of several rows: each value, which is best, and where each lies between the ends. */
export function compareFigure(figure: FigureRow, rows: Compared[]): ComparedCell[] {
  const of = (row: Compared, column = ""): unknown =>
    (row.figures as Record<string, unknown>)[column];
  const values = rows.map((row) => of(row, figure.column));
  const numbers = values.filter((value): value is number => typeof value === "number");
  const [low, high] = [Math.min(...numbers), Math.max(...numbers)];
  // A rank is better the lower it is, whatever the registry says of its direction.
  const direction = figure.key === "rank" ? -1 : figure.direction;
  const top = direction > 0 ? high : low;
  const named = ENDS[figure.column];
  const known = named && rows.some((row) => named[0] in row.figures) ? named : undefined;
  const ends = rows.map((row) => {
    const found = [of(row, known?.[0]), of(row, known?.[1])];
    return found.every((one) => typeof one === "number") ? (found as [number, number]) : null;
  });
  /** Whether another one may as well be the best: their intervals meet, or one of them is not known. */
  const contested = (at: number): boolean =>
    known !== undefined &&
    ends.some((one, other) => {
      const mine = ends[at];
      if (other === at || typeof values[other] !== "number") return false;
      return !one || !mine || (one[0] <= mine[1] && mine[0] <= one[1]);
    });
  return values.map((value, i) => {
    const rest = { ends: ends[i] ?? null, banded: known?.[0].endsWith("rank_low") ?? false };
    if (typeof value !== "number") return { value, best: false, at: null, ...rest };
    const first = direction !== 0 && numbers.length > 1 && high > low && value === top;
    return {
      value,
      best: first && !contested(i),
      at: high > low ? (value - low) / (high - low) : null,
      ...rest,
    };
  });
}
