import type { Schemas } from "@/api/client";

export type Listing = Schemas["ListingRow"];

export interface Rung {
  key: string;
  name: string;
  share: number;
  /** Of the clicks a year ago; null where that is not known. */
  before: number | null;
  /** With all those above it. */
  together: number;
}

/** Listings as rungs, most clicked first, with what they take together. */
export function listingRungs(listings: Listing[]): Rung[] {
  let together = 0;
  return listings.map((one) => {
    together += one.click_share;
    return {
      key: one.listing_id,
      name: one.title,
      share: one.click_share,
      before: one.click_share_52w_ago,
      together,
    };
  });
}

/** The same by brand, of the listings that are known; those without a brand stand together. */
export function brandRungs(listings: Listing[]): Rung[] {
  const sums = new Map<string, { share: number; before: number | null }>();
  for (const one of listings) {
    const name = one.brand ?? "without a known brand";
    const sum = sums.get(name) ?? { share: 0, before: null };
    sum.share += one.click_share;
    if (one.click_share_52w_ago !== null) sum.before = (sum.before ?? 0) + one.click_share_52w_ago;
    sums.set(name, sum);
  }
  let together = 0;
  return [...sums]
    .sort(([, a], [, b]) => b.share - a.share)
    .map(([name, sum]) => ({ key: name, name, ...sum, together: (together += sum.share) }));
}
