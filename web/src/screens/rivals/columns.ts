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

/** What brands and sellers have in common: what one sells and when, how it grows, and what moves in its goods. */
const holders = (head: string, own: Column[]): Column[] => [
  of("decision"),
  of("name", { head, width: 170 }),
  of("strip"),
  of("shape"),
  of("drift_a_year"),
  of("split"),
  figure("sales.units_52w", "units/yr", 62),
  figure("sales.revenue_52w", "revenue/yr", 74),
  figure("carried.listings", "listings", 54),
  figure("carried.came_52w", "came", 46),
  figure("carried.went_52w", "went", 46),
  figure("carried.price", "price", 56, { first: "up" }),
  figure("carried.asleep", "asleep", 50),
  ...own,
];
export const BRAND_COLUMNS = holders("brand", [
  figure("lorenz.share_for_90", "make 90%", 64, { first: "up" }),
  figure("entry.successes", "worked", 56),
]);
export const SELLER_COLUMNS = holders("seller", [
  figure("carried.brands", "brands", 52),
  figure("carried.lead_share", "lead offer", 64),
]);
