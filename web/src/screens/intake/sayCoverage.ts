import type { Schemas } from "@/api/client";
import { sayCount } from "@/shared/format";

type Row = Schemas["CoverageRow"];

export const periodOf = (row: Row): "week" | "month" => (row.period === "month" ? "month" : "week");

/** What the table holds, in a sentence. */
export function sayCoverage(row: Row): string {
  const whose = `${sayCount(row.subjects)} ${row.subjects === 1 ? row.what.slice(0, -1) : row.what}`;
  const parts = [`${sayCount(row.known)} figures by ${row.period} of ${whose}`];
  if (row.taken < row.share.length)
    parts.push(`taken in ${sayCount(row.taken)} of ${sayCount(row.share.length)} ${row.period}s`);
  if (row.without) parts.push(`of ${sayCount(row.without)} nothing is known`);
  parts.push(
    row.gaps
      ? `${sayCount(row.gaps)} are missing between the first and the last of their own`
      : "no gaps",
  );
  if (row.revised) parts.push(`a later import changed figures of ${sayCount(row.revised)}`);
  return `${parts.join("; ")}.`;
}
