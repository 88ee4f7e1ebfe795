/** A way to begin: a condition, and the order in which one reads what it leaves. */
export interface Way {
  /** Behind “those that”. */
  name: string;
  condition: string;
  sort: string;
}

export const WAYS: Record<"listings" | "brands" | "sellers", Way[]> = {
  listings: [
    {
      name: "sleep until their season",
      condition: "sleeper is Asleep",
      sort: "-sleep.strong_4w",
    },
    { name: "are in season now", condition: "sleeper is In season", sort: "-listing.units_4w" },
    {
      name: "grew dearer",
      condition: "price, change in 13 weeks over 10%",
      sort: "-listing.price_change_13w",
    },
    {
      name: "ever more sellers offer",
      condition: "its offers ahead of units over 50%",
      sort: "-listing.offers_lead",
    },
    { name: "are out of stock", condition: "in stock now under 50%", sort: "listing.in_stock" },
  ],
  brands: [
    { name: "grow without the season", condition: "drift is Rising", sort: "-drift_rate_year" },
    {
      name: "few listings carry",
      condition: "listings that make 90% <= 30%",
      sort: "lorenz.share_for_90",
    },
    {
      name: "launch with success",
      condition: "launches that worked at least 2",
      sort: "-entry.successes",
    },
    { name: "are new", condition: "days since first seen at most 730", sort: "carried.age" },
    { name: "have sleepers", condition: "its sleepers at least 2", sort: "-carried.asleep" },
  ],
  sellers: [
    { name: "grow without the season", condition: "drift is Rising", sort: "-drift_rate_year" },
    { name: "have sleepers", condition: "its sleepers at least 3", sort: "-carried.asleep" },
    {
      name: "added most in a year",
      condition: "listings that came at least 5",
      sort: "-carried.came_52w",
    },
    {
      name: "hold the lead offers",
      condition: "its share of lead offers at least 60%",
      sort: "-carried.lead_share",
    },
    { name: "are new", condition: "days since first seen at most 730", sort: "carried.age" },
  ],
};
