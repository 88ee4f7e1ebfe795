import { type Column, usualColumn as of } from "@/screens/parts/ledger/columns";

/** What the ledger of terms shows: what a term is searched, when, how it drifts, who serves it. */
export const TERM_COLUMNS: Column[] = [
  of("decision"),
  of("name", { head: "term", width: 190 }),
  of("strip"),
  of("shape"),
  of("act"),
  of("drift_a_year"),
  of("split"),
  of("searches"),
  { key: "purchase_rate", head: "purchase rate", sort: "purchase_rate", first: "down", align: "right", figure: "purchase_rate", width: 66 },
  { key: "competition_parts.top3_share", head: "top 3 take", sort: "competition_parts.top3_share", first: "up", align: "right", figure: "competition_parts.top3_share", width: 54 },
  of("breadth"),
  of("price"),
  of("balance"),
  of("headroom"),
]; // prettier-ignore
