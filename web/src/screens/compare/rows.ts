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

export interface ComparedCell {
  value: unknown;
  /** Whether no other is better; none is where a figure is neither good nor bad. */
  best: boolean;
  /** Where it lies between the lowest and the highest of those compared, 0 to 1; null for no number. */
  at: number | null;
}

/** A figure of several rows: each value, which is best, and where each lies between the ends. */
export function compareFigure(figure: FigureRow, rows: Compared[]): ComparedCell[] {
  const values = rows.map((row) => (row.figures as Record<string, unknown>)[figure.column]);
  const numbers = values.filter((value): value is number => typeof value === "number");
  const [low, high] = [Math.min(...numbers), Math.max(...numbers)];
  // A rank is better the lower it is, whatever the registry says of its direction.
  const direction = figure.key === "rank" ? -1 : figure.direction;
  const best = direction > 0 ? high : low;
  return values.map((value) => {
    if (typeof value !== "number") return { value, best: false, at: null };
    return {
      value,
      best: direction !== 0 && numbers.length > 1 && high > low && value === best,
      at: high > low ? (value - low) / (high - low) : null,
    };
  });
}
