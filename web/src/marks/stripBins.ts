/**
 * Quantity in seven steps, binned against the mean: a cell at the mean is always q2, whatever the
 * row, so strips compare down the page.
 */
const EDGES = [0.35, 0.75, 1.15, 1.6, 2.3, 3.6];

export const binOf = (factor: number): number => {
  const above = EDGES.findIndex((edge) => factor < edge);
  return above < 0 ? EDGES.length : above;
};

export interface Cell {
  /** Place and width in slots. */
  at: number;
  width: number;
  bin: number;
}

/** Neighbouring cells of the same step drawn as one. */
export function cellsOf(profile: readonly number[]): Cell[] {
  const cells: Cell[] = [];
  profile.forEach((factor, at) => {
    const bin = binOf(factor);
    const last = cells.at(-1);
    if (last?.bin === bin) last.width += 1;
    else cells.push({ at, width: 1, bin });
  });
  return cells;
}
