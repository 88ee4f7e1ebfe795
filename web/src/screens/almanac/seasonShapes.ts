import type { AlmanacLine, AlmanacSeason } from "@/api/almanac";
import { addDays, daysBetween } from "@/format/values";
import { type Axis, within } from "@/screens/parts/calendarAxis";

/** Height of a row at its year's highest; below it at least twice the mean, so that a level year looks level. */
const LEAST_HIGHEST = 2;

/** A hump as an area in a box of 1 by 1, from one place across to another. */
function area(line: AlmanacLine, axis: Axis, from: number, to: number): string {
  const days = daysBetween(axis.first, axis.last) + 1;
  const highest = Math.max(LEAST_HIGHEST, ...line.levels);
  const level = (x: number): number => {
    // A week's level stands at its middle.
    const place = (x * days - 3.5) / 7;
    const before = Math.min(line.levels.length - 1, Math.max(0, Math.floor(place)));
    const after = Math.min(line.levels.length - 1, before + 1);
    const part = Math.min(1, Math.max(0, place - before));
    const low = line.levels[before] ?? 0;
    return low + part * ((line.levels[after] ?? 0) - low);
  };
  const steps = line.levels.map((_, week) => (week * 7 + 3.5) / days);
  const xs = [from, ...steps.filter((x) => x > from && x < to), to];
  const points = xs.map((x) => `${x.toFixed(4)} ${(1 - level(x) / highest).toFixed(3)}`);
  return `M${from.toFixed(4)} 1L${points.join("L")}L${to.toFixed(4)} 1Z`;
}

export interface RowShapes {
  /** The whole of the usual year, its seasons, and their peaks, as paths in a box of 1 by 1. */
  year: string;
  seasons: string[];
  peaks: string[];
  orders: Order[];
}

/** When to order for a season: the last day for all of it, until when half is met, and when the goods are there. */
export interface Order {
  by: number | undefined;
  from: number;
  until: number;
  rise: number;
}

export function shapesOf(line: AlmanacLine, axis: Axis, on: string): RowShapes {
  const known = line.levels.length > 0;
  const parts = (begin: (one: AlmanacSeason) => string, end: (one: AlmanacSeason) => string) =>
    line.seasons
      .map((one) => [within(axis.at(begin(one))), within(axis.at(end(one)))] as const)
      .filter(([from, to]) => known && to > from)
      .map(([from, to]) => area(line, axis, from, to));
  return {
    year: known ? area(line, axis, 0, 1) : "",
    seasons: parts(
      (one) => one.rise,
      (one) => one.wind_down,
    ),
    peaks: parts(
      (one) => one.peak_start,
      (one) => addDays(one.peak_end, 1),
    ),
    orders: line.seasons
      .filter((one) => one.open_until >= on && axis.at(one.order_by) < 1)
      .map((one) => ({
        by: one.order_by >= on ? axis.at(one.order_by) : undefined,
        from: within(axis.at(one.order_by >= on ? one.order_by : on)),
        until: within(axis.at(addDays(one.open_until, 1))),
        rise: within(axis.at(one.rise)),
      })),
  };
}
