import type { FigureRow } from "@/api/client";
import type { KindWords } from "@/state/useKind";

/** A column of the ledger: heading, the figure it sorts by and explains, and how wide it is. */
export interface Column {
  key: string;
  head: string;
  /** What the list of columns calls it, where the heading alone does not say. */
  called?: string;
  /** Key of the figure to sort by, or name; none where an order would mean nothing. */
  sort?: string;
  /** The first click sorts this way. */
  first: "up" | "down";
  align: "left" | "right" | "centre";
  /** Key of the figure in the registry, for the heading's explanation and the working. */
  figure?: string;
  /** Pixels; the niche's column takes what is left as well. */
  width: number;
  /** Always there, at its place. */
  fixed?: boolean;
}

export const NARROWEST = 34;

export const COLUMNS: Column[] = [
  { key: "decision", head: "", first: "up", align: "left", width: 60, fixed: true },
  { key: "rank", head: "rank", sort: "rank", first: "up", align: "centre", figure: "rank", width: 44 },
  { key: "name", head: "niche", sort: "name", first: "up", align: "left", width: 150, fixed: true },
  { key: "strip", head: "", called: "year strip", first: "up", align: "left", figure: "season_profile", width: 112 },
  { key: "shape", head: "shape", sort: "shape", first: "up", align: "left", figure: "shape", width: 88 },
  { key: "act", head: "next season", sort: "act.open_days", first: "up", align: "left", figure: "act.caught", width: 74 },
  { key: "drift_a_year", head: "drift a year", sort: "drift_rate_year", first: "down", align: "right", figure: "drift_rate_year", width: 80 },
  { key: "split", head: "13 wk: season · drift", sort: "growth_13w.drift", first: "down", align: "centre", figure: "growth_13w.drift", width: 92 },
  { key: "raw", head: "raw", called: "raw change in 13 weeks", sort: "growth_13w.raw", first: "down", align: "right", figure: "growth_13w.raw", width: 52 },
  { key: "searches", head: "searches/yr", sort: "searches_52w", first: "down", align: "right", figure: "searches_52w", width: 66 },
  { key: "price", head: "price", sort: "sales.price_median", first: "down", align: "right", figure: "sales.price_median", width: 46 },
  { key: "breadth", head: "breadth", sort: "competition_parts.click_breadth", first: "down", align: "right", figure: "competition_parts.click_breadth", width: 44 },
  { key: "balance", head: "competition · demand", sort: "competition", first: "up", align: "centre", figure: "competition", width: 104 },
  { key: "headroom", head: "headroom", sort: "headroom", first: "down", align: "right", figure: "headroom", width: 56 },
]; // prettier-ignore

const usual = new Map(COLUMNS.map((column) => [column.key, column]));

/** One of these columns, changed for another kind. */
export const usualColumn = (key: string, more: Partial<Column> = {}): Column => ({
  ...(usual.get(key) as Column),
  ...more,
});

/** Figures that fit into a cell of their own. */
const UNFIT = new Set(["profile", "shifts", "seasons", "sentence"]);

/** The ledger's own columns for a kind: those that are usual for it, and the others drawn by hand. */
export const columnsFor = (usual: Column[]): Column[] => [
  ...usual,
  ...COLUMNS.filter((column) => !usual.some((one) => one.key === column.key)),
];

/** Columns that can be added: any figure of the kind that fits into a cell and is not there already. */
export const addable = (kind: KindWords, figures: FigureRow[]): FigureRow[] =>
  figures.filter(
    (figure) =>
      figure.kinds.includes(kind.of) &&
      !UNFIT.has(figure.type) &&
      !COLUMNS.some((column) => column.figure === figure.key),
  );

/** A column of a figure that the ledger does not show by itself. */
export function columnOf(figure: FigureRow): Column {
  const words = ["word", "signals", "weeks"].includes(figure.type);
  return {
    key: figure.key,
    head: figure.label.toLowerCase(),
    called: figure.label,
    sort: figure.condition_name || figure.type === "date" ? figure.key : undefined,
    first: figure.direction < 0 ? "up" : "down",
    align: words ? "left" : "right",
    figure: figure.key,
    width: words ? 110 : 84,
  };
}
