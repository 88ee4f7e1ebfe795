import { addDays, daysBetween, MONTHS } from "@/format/values";

/** Where days lie across a window, 0 to 1. */
export interface Axis {
  first: string;
  last: string;
  at: (day: string) => number;
}

export function axisOf(first: string, last: string): Axis {
  const days = daysBetween(first, last) + 1;
  return { first, last, at: (day) => daysBetween(first, day) / days };
}

/** Months that an almanac shows, from that of the planning date on. */
const SHOWN = 15;

/** The fifteen months from that of a day on. */
export function monthsFrom(day: string): Axis {
  const first = `${day.slice(0, 7)}-01`;
  let end = first;
  for (let month = 0; month < SHOWN; month += 1) end = nextMonth(end);
  return axisOf(first, addDays(end, -1));
}

export const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;
export const within = (value: number): number => Math.min(1, Math.max(0, value));

/** The months of a window, each where it begins; the year is said with the first and with January. */
export function monthsOf({ first, last, at }: Axis) {
  const found = [];
  for (let day = first; day <= last; day = nextMonth(day)) {
    const month = Number(day.slice(5, 7));
    const year = month === 1 || day === first ? day.slice(0, 4) : "";
    found.push({ day, label: MONTHS[month - 1] ?? "", year, at: at(day) });
  }
  return found;
}
const nextMonth = (day: string): string => `${addDays(`${day.slice(0, 7)}-28`, 4).slice(0, 7)}-01`;
