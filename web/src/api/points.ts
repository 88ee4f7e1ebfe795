/** Points of the chart as they come in one piece: arrays are laid over it instead of reading numbers. */

import type { Schemas } from "./client";

/** The numbers of a point, each NaN where it is unknown. */
type Numbers = "competition" | "demand" | "headroom" | "revenue" | "shape";

export type Points = Omit<Schemas["Points"], Numbers> & Record<Numbers, Float32Array>;

/** What `packed` answers: the length of a text, JSON with all but the numbers, the numbers as float32. */
export function unpackPoints(packed: ArrayBuffer): Points {
  const length = new DataView(packed).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(packed, 4, length))) as Omit<
    Points,
    Numbers
  >;
  const column = (at: number): Float32Array =>
    new Float32Array(packed, 4 + length + 4 * at * head.ids.length, head.ids.length);
  return {
    ...head,
    competition: column(0),
    demand: column(1),
    headroom: column(2),
    revenue: column(3),
    shape: column(4),
  };
}
