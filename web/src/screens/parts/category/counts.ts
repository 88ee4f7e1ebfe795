import type { Category } from "@/api/previews";
import { formatCount } from "@/format/values";

const COUNTS = ["niches", "terms", "listings", "brands", "sellers"] as const;

/** The contents of a category, as “12 niches · 80 terms”. */
export const countsOf = ({ figures }: Category): string =>
  COUNTS.map((key) => ({ key, many: figures[`counts_${key}`] }))
    .filter(({ many }) => many !== null)
    .map(({ key, many }) => `${formatCount(many)} ${key}`)
    .join(" · ");
