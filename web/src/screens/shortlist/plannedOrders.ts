import type { Orders } from "@/api/orders";

/** What is planned of a niche: its next date, the cash it binds at the lowest, and its chance of a loss. */
export interface PlannedOrder {
  key: string;
  what: string;
  day: string;
  lowest: number;
  loss: number;
  /** Further plans of the same niche. */
  others: number;
}

/** The plan of each niche that counts: one that is placed, else what is proposed, else what earns most on average. */
export function plannedOrders(orders: Orders): Map<string, PlannedOrder> {
  const found = new Map<string, PlannedOrder>();
  const rank = (one: Orders["plans"][number]): number => (one.placed ? 0 : one.proposed ? 1 : 2);
  const sorted = [...orders.plans].sort(
    (a, b) => rank(a) - rank(b) || (b.summary?.mean ?? 0) - (a.summary?.mean ?? 0),
  );
  for (const { key, niche_id, placed, summary } of sorted) {
    if (!summary) continue;
    const before = found.get(niche_id);
    if (before) {
      before.others += 1;
      continue;
    }
    const dates = placed
      ? ([
          ["on sale", summary.on_sale],
          ["sold until", summary.until],
        ] as const)
      : ([["order", summary.ordered]] as const);
    const next = dates.find(([, day]) => day >= orders.today) ?? dates.at(-1);
    if (!next) continue;
    const past = next[1] < orders.today;
    found.set(niche_id, {
      key,
      what: past ? `${next[0]}, past:` : next[0],
      day: next[1],
      lowest: summary.lowest[1] ?? 0,
      loss: summary.loss,
      others: 0,
    });
  }
  return found;
}
