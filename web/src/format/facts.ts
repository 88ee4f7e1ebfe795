import type { SubjectPreview } from "@/api/client";
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
    {
      head: "Drift a year",
      of: "drift_rate_year",
      figure: formatChange(f.drift_rate_year),
      beside: f.drift
        ? together(f.drift, f.drift_low !== null && formatInterval(f.drift_low, f.drift_high))
        : "",
    },
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
