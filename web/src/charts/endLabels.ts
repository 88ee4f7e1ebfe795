const LINE = 14; // Pixels from one label to the next.

/**
 * How far labels at the ends of curves are moved, in pixels, downwards positive, so that none lies on another.
 *
 * @param ends what each curve ends with, null where it has none
 * @param top what the axis ends with at the top, zero being at the bottom
 * @param height pixels from the one to the other
 */
export function endLabelShifts(
  ends: (number | null | undefined)[],
  top: number,
  height: number,
): number[] {
  const shifts = ends.map(() => 0);
  const known = ends
    .map((value, at) => ({ at, y: (1 - (value ?? 0) / (top || 1)) * height, value }))
    .filter(({ value }) => value !== null && value !== undefined)
    .sort((a, b) => a.y - b.y);
  let free = -Infinity;
  for (const { at, y } of known) {
    const placed = Math.max(y, free);
    shifts[at] = placed - y;
    free = placed + LINE;
  }
  // Those that were pushed below the axis go up again, and push those above them.
  let last = height;
  for (const { at, y } of known.reverse()) {
    const placed = Math.min(y + (shifts[at] ?? 0), last);
    shifts[at] = placed - y;
    last = placed - LINE;
  }
  return shifts;
}
