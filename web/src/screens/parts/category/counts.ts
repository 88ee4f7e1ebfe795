import type { Category } from "@/api/previews";
import { formatCount } from "@/format/values";

const COUNTS = ["niches", "terms", "listings", "brands", "sellers"] as const;

/** What lies in a category, as “12 niches · 80 terms”. */
export const countsOf = ({ figures }: Category): string =>
  COUNTS.map((key) => `${formatCount(figures[`counts_${key}`] ?? 0)} ${key}`).join(" · ");
