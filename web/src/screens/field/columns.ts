/** The ledger's columns: heading, the figure it sorts by, and what the heading explains. */
export interface Column {
  key: string;
  head: string;
  /** Key of the figure to sort by, or name; none where an order would mean nothing. */
  sort?: string;
  /** The first click sorts this way. */
  first: "up" | "down";
  align: "left" | "right" | "centre";
  /** Key of the figure in the registry, for the heading's explanation. */
  figure?: string;
  /** Left out first when the window is narrow. */
  spare?: boolean;
  /** Left out in a window as narrow as a telephone's. */
  wide?: boolean;
}

export const COLUMNS: Column[] = [
  { key: "decision", head: "", first: "up", align: "left" },
  { key: "rank", head: "rank", sort: "rank", first: "up", align: "centre", figure: "rank" },
  { key: "name", head: "niche", sort: "name", first: "up", align: "left" },
  { key: "strip", head: "", first: "up", align: "left", figure: "season_profile" },
  { key: "shape", head: "shape", sort: "shape", first: "up", align: "left", figure: "shape", wide: true },
  { key: "drift", head: "drift a year", sort: "drift_rate_year", first: "down", align: "right", figure: "drift_rate_year" },
  { key: "split", head: "13 wk: season · drift", sort: "growth_13w.drift", first: "down", align: "centre", figure: "growth_13w.drift", wide: true },
  { key: "raw", head: "raw", sort: "growth_13w.raw", first: "down", align: "right", figure: "growth_13w.raw", wide: true },
  { key: "searches", head: "searches/yr", sort: "searches_52w", first: "down", align: "right", figure: "searches_52w", wide: true },
  { key: "price", head: "price", sort: "sales.price_median", first: "down", align: "right", figure: "sales.price_median", spare: true },
  { key: "breadth", head: "breadth", sort: "competition_parts.click_breadth", first: "down", align: "right", figure: "competition_parts.click_breadth", spare: true },
  { key: "balance", head: "competition · demand", sort: "competition", first: "up", align: "centre", figure: "competition", spare: true },
  { key: "headroom", head: "headroom", sort: "headroom", first: "down", align: "right", figure: "headroom" },
]; // prettier-ignore
