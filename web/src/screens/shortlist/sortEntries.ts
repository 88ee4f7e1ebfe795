import type { Entry } from "./useEntries";

/** What a list is sorted by: a figure as it is now, the name or the day of the decision, "-" for downwards; empty for
 *  the order by hand. */
export type Sort = string;

function valueOf(entry: Entry, key: string): string | number | null {
  if (key === "name") return entry.name.toLowerCase();
  if (key === "decided") return entry.decided_at;
  const value = entry.now[key];
  return typeof value === "number" || typeof value === "string" ? value : null;
}

/** Entries in an order; unknown comes last either way, equal ones stay in the order by hand. */
export function sortEntries(entries: Entry[], sort: Sort): Entry[] {
  if (!sort) return entries;
  const down = sort.startsWith("-");
  const key = sort.replace(/^-/, "");
  return [...entries].sort((a, b) => {
    const [x, y] = [valueOf(a, key), valueOf(b, key)];
    if (x === null || y === null) return Number(x === null) - Number(y === null);
    const order =
      typeof x === "number" && typeof y === "number" ? x - y : String(x).localeCompare(String(y));
    return down ? -order : order;
  });
}

/** The sort after a click on a heading: upwards, downwards, and by hand again. */
export function nextSort(sort: Sort, key: string): Sort {
  if (sort === key) return `-${key}`;
  return sort === `-${key}` ? "" : key;
}
