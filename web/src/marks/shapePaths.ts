import type { Schemas } from "@/api/client";

/** Small line drawings of the curve itself, one year wide, 18 × 13. */
export const SHAPE_PATHS: Record<Schemas["Shape"], string> = {
  Evergreen: "M1 6.5H17",
  Leaning: "M1 8C5 8 6 5 9 5s4 3 8 3",
  Seasonal: "M1 11C6 11 6 2 9 2s3 9 8 9",
  Occasion: "M1 11H7.5V2.5H10V11H17",
  Fad: "M1 11H3.5L5.5 2 8 10.5 17 11",
  Unsettled: "M1 9 4 3 6 10 9 5 12 11 14 2 17 8",
};
