import type { StepRow } from "@/api/terms";
import { formatChange, formatCount } from "@/format/values";

/** As drift is Rising or Easing from 8% a year on. */
const MARKED = 0.08;
/** Half a 90% interval, in standard errors. */
const Z = 1.645;

type Volume = Pick<StepRow, "searches_52w" | "growth_52w">;

/** The growth of some searches, nought where counting noise alone explains it; null where it is unknown. */
function clearGrowth({ searches_52w: now, growth_52w: growth }: Volume): number | null {
  if (growth === null || now === null) return null;
  if (now <= 0 || growth <= -1) return growth;
  // The logarithm of a ratio of two counts has a variance of the sum of their reciprocals.
  const noise = Z * Math.sqrt((2 + growth) / now);
  return Math.abs(Math.log1p(growth)) > noise ? growth : 0;
}

/** Growth as it is told; nothing where it is unknown. */
export function tellGrowth(volume: Volume): string {
  const growth = clearGrowth(volume);
  return growth === null ? "" : formatChange(growth);
}

/** ▲ or ▼ where searches changed by 8% or more on the year before, and clearly. */
export function growthMark(volume: Volume | undefined): string {
  const growth = (volume && clearGrowth(volume)) ?? 0;
  if (Math.abs(growth) < MARKED) return "";
  return growth > 0 ? "▲" : "▼";
}

/** A step in words: how many terms, how much they are searched, and how that changed. */
export function describeStep(step: StepRow): string {
  const { name, terms, searches_52w, first } = step;
  const many = `${formatCount(terms)} ${terms === 1 ? "term" : "terms"}`;
  const searches =
    searches_52w === null ? "searches unknown" : `${formatCount(searches_52w)} searches a year`;
  const told = tellGrowth(step);
  const growth = told ? `, ${told} on the year before` : "";
  return `${name}: ${many}, ${searches}${growth}; first “${first}”`;
}
