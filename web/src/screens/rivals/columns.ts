import { type Column, usualColumn as of } from "@/screens/parts/ledger/columns";

const figure = (key: string, head: string, width: number, more: Partial<Column> = {}): Column => ({
  key, head, sort: key, first: "down", align: "right", figure: key, width, ...more,
}); // prettier-ignore

/** What the ledger of listings shows: what one sells and when, at what price, against whom, and whether it sleeps. */
export const LISTING_COLUMNS: Column[] = [
  of("decision"),
  of("name", { head: "listing", width: 290 }),
  of("strip"),
  of("shape"),
  figure("sleep.state", "sleeper", 70, { align: "left", first: "up" }),
  figure("sleep.order_by", "order by", 82, { first: "up" }),
  of("drift_a_year"),
  of("split"),
  figure("sales.units_52w", "units/yr", 62),
  figure("listing.price", "price", 56),
  figure("listing.reviews", "reviews", 56),
  figure("listing.offers", "offers", 48, { first: "up" }),
];
