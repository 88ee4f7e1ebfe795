import type { FigureRow, SubjectPreview } from "@/api/client";

/** What is set side by side, in the order one asks: worth it, wanted, lasting, paying, open. */
export const COMPARED: { head: string; keys: string[] }[] = [
  { head: "Standing", keys: ["headroom", "rank", "demand", "competition"] },
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
      "barriers.sponsored_clicks",
      "barriers.return_rate",
    ],
  },
  {
    head: "Newcomers",
    keys: ["entry.launches_52w", "entry.success_rate", "entry.units_per_review"],
  },
];

export interface ComparedCell {
  value: unknown;
  /** Whether no other is better; none is where a figure is neither good nor bad. */
  best: boolean;
  /** Where it lies between the lowest and the highest of those compared, 0 to 1; null for no number. */
  at: number | null;
}

/** A figure of several rows: each value, which is best, and where each lies between the ends. */
export function compareFigure(figure: FigureRow, rows: SubjectPreview[]): ComparedCell[] {
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
