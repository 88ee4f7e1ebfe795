import type { SubjectPreview } from "@/api/client";
import type { HolderPreview, ListingPreview } from "@/api/rivals";
import { formatMoney } from "./money";
import { actOn } from "./seasons";
import {
  formatChange,
  formatCount,
  formatDay,
  formatInterval,
  formatShare,
  UNKNOWN,
} from "./values";

type Figures = SubjectPreview["figures"];
type ListingFigures = ListingPreview["figures"];
type HolderFigures = HolderPreview["figures"];

/** One of the facts that decide: a heading, the figure, and what is said with it. */
export interface Fact {
  head: string;
  /** Key of the figure that explains it. */
  of: string;
  figure: string;
  beside: string;
}

const together = (...parts: (string | false)[]): string => parts.filter(Boolean).join(" · ");

/** When to act, or that there is no season to catch. */
function dates(f: Figures): Fact {
  const act = f.shape_family === "seasonal" ? actOn(f) : null;
  if (!act) {
    const beside = together(
      f.best13 !== null && `best quarter ${formatShare(f.best13)}`,
      f.shape_confidence !== null && `confidence ${formatShare(f.shape_confidence)}`,
    );
    return { head: "Season", of: "shape", figure: f.shape ?? UNKNOWN, beside };
  }
  const sure = f.shape_confidence !== null && `confidence ${formatShare(f.shape_confidence)}`;
  const late = act.head !== "Order by";
  const full = late && f.order_by !== null && `next full one: order by ${formatDay(f.order_by)}`;
  return {
    ...act,
    of: late ? "act.caught" : "act.order_by",
    beside: late ? together(act.beside, full) : together(act.beside, f.shape ?? "", sure),
  };
}

const drifts = (
  f: Pick<Figures, "drift_rate_year" | "drift" | "drift_low" | "drift_high">,
): Fact => ({
  head: "Drift a year",
  of: "drift_rate_year",
  figure: formatChange(f.drift_rate_year),
  beside: f.drift
    ? together(f.drift, f.drift_low !== null && formatInterval(f.drift_low, f.drift_high))
    : "",
});

/** Units of a year, which are called estimated where nobody counted them. */
const unitsOf = (
  known: number | null,
  estimated: number | null,
  of: string,
  beside: string,
): Fact =>
  known === null && estimated !== null
    ? { head: "Units a year, estimated", of, figure: `≈${formatCount(estimated)}`, beside }
    : { head: "Units a year", of: "sales.units_52w", figure: formatCount(known), beside };

/** The same of a listing: what it sells, when it comes again, its price, reviews, and who piles in. */
export function listingFacts(f: ListingFigures): Fact[] {
  const estimated = f.sales_units_52w === null && f.listing_estimated_units !== null;
  const best = f.listing_best_units_4w;
  return [
    unitsOf(
      f.sales_units_52w,
      f.listing_estimated_units,
      "listing.estimated_units",
      estimated
        ? `${formatCount(f.listing_estimated_low)} to ${formatCount(f.listing_estimated_high)}`
        : best === null
          ? ""
          : `${formatCount(best)} in four weeks of its best quarter`,
    ),
    drifts(f),
    f.sleep_state === null || f.sleep_order_by === null
      ? {
          head: "Season",
          of: "shape",
          figure: f.shape ?? UNKNOWN,
          beside: f.best13 === null ? "" : `best quarter ${formatShare(f.best13)}`,
        }
      : {
          head: `${f.sleep_state}, order by`,
          of: "sleep.order_by",
          figure: formatDay(f.sleep_order_by),
          beside: f.sleep_rise === null ? "" : `its season rises ${formatDay(f.sleep_rise)}`,
        },
    {
      head: "Price now",
      of: "listing.price",
      figure: formatMoney(f.listing_price),
      beside: together(
        f.listing_price_floor !== null &&
          `a tenth of the year ${formatMoney(f.listing_price_floor)} or less`,
        f.listing_price_change_13w !== null &&
          `${formatChange(f.listing_price_change_13w)} in 13 weeks`,
      ),
    },
    {
      head: "Reviews",
      of: "listing.reviews",
      figure: formatCount(f.listing_reviews),
      beside:
        f.listing_new_reviews_52w === null
          ? ""
          : `${formatCount(f.listing_new_reviews_52w)} in a year`,
    },
    {
      head: "Offers",
      of: "listing.offers",
      figure: formatCount(f.listing_offers),
      beside: together(
        f.listing_offers_yoy !== null && `${formatChange(f.listing_offers_yoy)} in a year`,
        f.listing_in_stock !== null && `in stock ${formatShare(f.listing_in_stock)}`,
      ),
    },
  ];
}

/** The same of a brand or a seller: what it sells, how its goods come and go, and who shares in them. */
export function holderFacts(f: HolderFigures): Fact[] {
  return [
    unitsOf(
      f.sales_units_52w,
      f.carried_estimated_units,
      "carried.estimated_units",
      f.sales_revenue_52w === null ? "" : `${formatMoney(f.sales_revenue_52w)} revenue`,
    ),
    drifts(f),
    {
      head: "Season",
      of: "shape",
      figure: f.shape ?? UNKNOWN,
      beside: f.best13 === null ? "" : `best quarter ${formatShare(f.best13)}`,
    },
    {
      head: "Listings on sale",
      of: "carried.listings",
      figure: formatCount(f.carried_listings),
      beside: together(
        f.carried_came_52w !== null && `${formatCount(f.carried_came_52w)} came in a year`,
        f.carried_went_52w !== null && `${formatCount(f.carried_went_52w)} went`,
      ),
    },
    {
      head: "Median price",
      of: "carried.price",
      figure: formatMoney(f.carried_price),
      beside:
        f.lorenz_share_for_90 === null
          ? ""
          : `${formatShare(f.lorenz_share_for_90)} of its listings make 90% of revenue`,
    },
    "carried_sellers" in f
      ? {
          head: "Sellers",
          of: "carried.sellers",
          figure: formatCount(f.carried_sellers),
          beside: f.carried_reviews === null ? "" : `${formatCount(f.carried_reviews)} reviews`,
        }
      : {
          head: "Brands",
          of: "carried.brands",
          figure: formatCount(f.carried_brands),
          beside:
            f.carried_lead_share === null
              ? ""
              : `${formatShare(f.carried_lead_share)} of its lead offers`,
        },
  ];
}

/** The six facts a yes or no is made by: demand, drift, date, money, barrier, and how newcomers fared. */
export function sixFacts(f: Figures): Fact[] {
  return [
    {
      head: "Searches a year",
      of: "searches_52w",
      figure: formatCount(f.searches_52w),
      beside:
        f.purchase_rate === null ? "" : `${(f.purchase_rate * 100).toFixed(1)}% end in a purchase`,
    },
    drifts(f),
    dates(f),
    {
      head: "Price",
      of: "sales.price_median",
      figure: formatMoney(f.sales_price_median),
      beside:
        f.sales_revenue_per_listing === null
          ? ""
          : `${formatMoney(f.sales_revenue_per_listing)} revenue a listing a year`,
    },
    {
      head: "Reviews of the top ten",
      of: "review_barrier",
      figure: formatCount(f.review_barrier),
      beside: together(
        f.competition_parts_click_breadth !== null &&
          `breadth ${formatCount(f.competition_parts_click_breadth)}`,
        f.competition_parts_top_brand_share !== null &&
          `first brand ${formatShare(f.competition_parts_top_brand_share)}`,
      ),
    },
    {
      head: "Launches in a year",
      of: "entry.launches_52w",
      figure: formatCount(f.entry_launches_52w),
      beside:
        f.entry_judged === null || f.entry_successes === null || !f.entry_judged
          ? ""
          : `${f.entry_successes} of ${f.entry_judged} that can be judged succeeded`,
    },
  ];
}
