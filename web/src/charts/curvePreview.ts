import type { SubjectPreview } from "@/api/client";

/** What a curve is drawn from, of a row of any kind. */
export type CurvePreview = Pick<
  SubjectPreview,
  "name" | "first" | "period" | "values" | "level" | "years"
> & { figures: Pick<SubjectPreview["figures"], "level_shifts" | "basis"> };

/** One of several curves on the same axes. */
export type CurveOfRow = Pick<SubjectPreview, "id" | "name" | "first" | "period" | "values">;
