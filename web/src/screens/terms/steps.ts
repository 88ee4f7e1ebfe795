import type { StepRow } from "@/api/terms";
import { formatChange, formatCount } from "@/format/values";

// Within noise of what most words do in a year, as drift is Rising or Easing from 8% a year on.
const CLEAR = 0.08;

/** ▲ or ▼ where searches changed by 8% or more on the year before. */
export function growthMark(growth: number | null | undefined): string {
  if (growth === null || growth === undefined || Math.abs(growth) < CLEAR) return "";
  return growth > 0 ? "▲" : "▼";
}

/** A step in words: how many terms, how much they are searched, and how that changed. */
export function describeStep({ name, terms, searches_52w, growth_52w, first }: StepRow): string {
  const many = `${formatCount(terms)} ${terms === 1 ? "term" : "terms"}`;
  const searches =
    searches_52w === null ? "searches unknown" : `${formatCount(searches_52w)} searches a year`;
  const growth = growth_52w === null ? "" : `, ${formatChange(growth_52w)} on the year before`;
  return `${name}: ${many}, ${searches}${growth}; first “${first}”`;
}
