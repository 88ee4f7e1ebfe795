import type { Schemas } from "@/api/client";
import { formatCount } from "@/format/values";

type Row = Schemas["CoverageRow"];

export const periodOf = (row: Row): "week" | "month" => (row.period === "month" ? "month" : "week");

/** What the table holds, in a sentence. */
export function describeCoverage(row: Row): string {
  const whose = `${formatCount(row.subjects)} ${row.subjects === 1 ? row.what.slice(0, -1) : row.what}`;
  const parts = [`${formatCount(row.known)} figures by ${row.period} of ${whose}`];
  if (row.taken < row.share.length)
    parts.push(
      `observed in ${formatCount(row.taken)} of ${formatCount(row.share.length)} ${row.period}s`,
    );
  if (row.without) parts.push(`of ${formatCount(row.without)} nothing is known`);
  parts.push(
    row.gaps
      ? `${formatCount(row.gaps)} are missing between the first and the last of their own`
      : "no gaps",
  );
  if (row.revised) parts.push(`a later import changed figures of ${formatCount(row.revised)}`);
  return `${parts.join("; ")}.`;
}
