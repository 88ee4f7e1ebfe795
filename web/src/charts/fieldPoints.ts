/** What the chart of the Field draws, worked out of the points and what of them is in view. */

import type { Points } from "@/api/points";

export type { Points };

/** The part of the chart that is in view, in its own units. */
export interface View {
  across: [low: number, high: number];
  up: [low: number, high: number];
}

/** Niches of one cell of the view, where points would lie over one another. */
export interface Bin {
  across: [number, number];
  up: [number, number];
  count: number;
}

/** Points in view up to which each is drawn for itself. */
export const MAX_POINTS = 1_200;
/** Room above the highest demand, 100, for whole marks and the lines' names. */
export const TOP = 118;
const LEVELS = [20, 40, 60, 80];
const SMALLEST = 4;
const LARGEST = 14;

/** The view that shows every point, with a little room round them. */
export function wholeOf(points: Points): View {
  let [left, right, low] = [100, 0, 100];
  for (const x of points.competition) [left, right] = [Math.min(left, x), Math.max(right, x)];
  for (const y of points.demand) low = Math.min(low, y);
  return {
    across: [Math.max(0, Math.floor(left - 4)), Math.min(100, Math.ceil(right + 4))],
    up: [Math.max(0.1, Math.min(50, low * 0.85)), TOP],
  };
}

/** Places of the points in view. */
export function inView(points: Points, view: View): number[] {
  const found: number[] = [];
  const { competition, demand } = points;
  for (let i = 0; i < demand.length; i++) {
    const x = competition[i] ?? NaN;
    const y = demand[i] ?? NaN;
    if (x >= view.across[0] && x <= view.across[1] && y >= view.up[0] && y <= view.up[1])
      found.push(i);
  }
  return found;
}

/** Counts by cell of a grid that is even on the chart: straight across, by equal factors upward. */
export function binPoints(
  points: Points,
  places: number[],
  view: View,
  columns: number,
  rows: number,
): Bin[] {
  const [x0, x1] = view.across;
  const [y0, y1] = [Math.log(view.up[0]), Math.log(view.up[1])];
  const counts = new Map<number, number>();
  for (const i of places) {
    const x = ((points.competition[i] ?? 0) - x0) / (x1 - x0);
    const y = (Math.log(points.demand[i] ?? 1) - y0) / (y1 - y0);
    const cell =
      Math.min(columns - 1, Math.floor(x * columns)) * rows +
      Math.min(rows - 1, Math.floor(y * rows));
    counts.set(cell, (counts.get(cell) ?? 0) + 1);
  }
  const edge = (low: number, high: number, at: number, of: number): number =>
    low + ((high - low) * at) / of;
  return [...counts].map(([cell, count]) => {
    const [column, row] = [Math.floor(cell / rows), cell % rows];
    return {
      across: [edge(x0, x1, column, columns), edge(x0, x1, column + 1, columns)],
      up: [Math.exp(edge(y0, y1, row, rows)), Math.exp(edge(y0, y1, row + 1, rows))],
      count,
    };
  });
}

/** Lines along which headroom is the same: demand over competition, as the lens weighs them. */
export function headroomLines(balance: number, lowest: number) {
  return LEVELS.map((level) => {
    const line: [number, number][] = [];
    for (let x = 0; x <= 100; x += 1) {
      const open = Math.log(Math.max(1 - x / 100, 1e-6));
      const demand = 100 * Math.exp((Math.log(level / 100) - (1 - balance) * open) / balance);
      if (demand <= 100 && demand >= lowest) line.push([x, demand]);
    }
    return { level, line };
  }).filter(({ line }) => line.length > 1);
}

/** Radius of a point, its area by revenue; unknown revenue is the smallest. */
export function radius(revenue: number | null | undefined, most: number): number {
  if (!revenue || most <= 0) return SMALLEST;
  return SMALLEST + (LARGEST - SMALLEST) * Math.sqrt(Math.min(revenue / most, 1));
}

/** A path with no more than `most` corners, which is what a condition can carry. */
export function simplified(path: [number, number][], most = 24): [number, number][] {
  if (path.length <= most) return path;
  return Array.from({ length: most }, (_, i) => path[Math.floor((i * path.length) / most)]).filter(
    (corner) => corner !== undefined,
  );
}
