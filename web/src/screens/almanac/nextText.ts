import type { AlmanacLine } from "@/api/almanac";
import { pastMark } from "@/format/seasons";
import { formatDay, formatShare, MONTHS } from "@/format/values";

/** Shapes of which no calendar is known. */
const WITHOUT = new Set(["Fad", "Unsettled"]);

/** What is to be done next for a row, in a few words. */
export function nextText(line: AlmanacLine): string {
  const due = line.next;
  if (due) {
    const past = pastMark(due.day) ? ` (${pastMark(due.day)})` : "";
    return due.what === "order"
      ? `order by ${formatDay(due.day)}${past}`
      : `until ${formatDay(due.day)}${past} · ${formatShare(due.caught)} caught`;
  }
  if (line.shape === null || WITHOUT.has(line.shape) || !line.levels.length)
    return line.shape === "Fad" ? "a fad: no year to plan by" : "no yearly pattern known";
  return "sells all year";
}

const NONE = "No season to order for";

/** Under which heading a row stands, by what they are sorted by; none where nothing is grouped. */
export function groupOf(line: AlmanacLine, by: string): string {
  if (by === "category") return line.category || "Without a category";
  if (by !== "next") return "";
  if (!line.next) return NONE;
  const month = MONTHS[Number(line.next.day.slice(5, 7)) - 1] ?? "";
  return `Deadline in ${month} ${line.next.day.slice(0, 4)}`;
}
