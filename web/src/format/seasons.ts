import { formatDay, formatShare, formatShortDay, today } from "./values";

/** The season to act on, in a row of the ledger or in a niche's figures. */
export interface Acting {
  act_order_by: string | null;
  act_order_in_days: number | null;
  act_open_until: string | null;
  act_caught: number | null;
}

/** What to do about a season: the date to act by or the share that is met, and what is said with it. */
export interface Act {
  head: string;
  figure: string;
  beside: string;
}

/** “past” for a day that lies before today on the machine's own calendar, so that nobody plans for it. */
export const pastMark = (day: string): string => (day < today() ? "past" : "");

const marked = (text: string, day: string): string =>
  pastMark(day) ? `${text} (${pastMark(day)})` : text;

/** An order that is still early enough for all of the season has a date; after it a part is met, until less than half is. */
export function actOn(f: Acting): Act | null {
  if (f.act_order_by === null || f.act_open_until === null) return null;
  if ((f.act_order_in_days ?? -1) >= 0)
    return {
      head: "Order by",
      figure: formatDay(f.act_order_by),
      beside: marked("for the full season", f.act_order_by),
    };
  return {
    head: "Season caught",
    figure: formatShare(f.act_caught),
    beside: marked(`half of it until ${formatShortDay(f.act_open_until)}`, f.act_open_until),
  };
}
