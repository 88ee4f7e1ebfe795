/** Figures as a merchant reads them. Unknown is an en dash, never 0. */

export const UNKNOWN = "–";
export const MINUS = "−";

type Maybe = number | null | undefined;

/** A whole number with its thousands apart. The browser's own formats would load their tables first, 50 ms of every
 *  start on a small machine. */
export const formatWhole = (value: number): string =>
  String(Math.round(value) || 0).replace(/\B(?=(\d{3})+$)/g, ",");

export const formatCount = (value: Maybe): string => (value == null ? UNKNOWN : formatWhole(value));

/** A bound or an edge of a figure of some type: percent for shares and changes. */
export function formatBound(value: number, type: string): string {
  if (type === "share" || type === "change")
    return `${Number((value * 100).toPrecision(3))}%`.replace("-", MINUS);
  if (Math.abs(value) >= 100) return formatWhole(value).replace("-", MINUS);
  return String(Number(value.toPrecision(3))).replace("-", MINUS);
}

export const formatShare = (value: Maybe): string =>
  value == null ? UNKNOWN : `${(value * 100).toFixed(0)}%`;

/** A signed change: percent, beyond tenfold a factor, near zero in words. As verdict.say_change. */
export function formatChange(value: Maybe): string {
  if (value == null) return UNKNOWN;
  if (value >= 99) return "from ~0";
  if (value >= 9) return `×${(value + 1).toFixed(0)}`;
  if (value <= -0.99) return "to ~0";
  if (value <= -0.9) return `÷${(1 / (1 + value)).toFixed(0)}`;
  const percent = Math.round(Math.abs(value) * 100);
  if (percent === 0) return "±0%";
  return `${value > 0 ? "+" : MINUS}${percent}%`;
}

const at = (iso: string): Date => new Date(`${iso}T00:00:00Z`);

export const MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ");

/** A day as the verdicts say it: 5 Sep 2026. */
export function formatDay(iso: string): string {
  const day = at(iso);
  return `${day.getUTCDate()} ${MONTHS[day.getUTCMonth()]} ${day.getUTCFullYear()}`;
}

/** A day without its year, where that stands beside it. */
export function formatShortDay(iso: string): string {
  const day = at(iso);
  return `${day.getUTCDate()} ${MONTHS[day.getUTCMonth()]}`;
}

/** Today on the machine's own calendar. */
export function today(): string {
  const now = new Date();
  const [month, day] = [now.getMonth() + 1, now.getDate()].map((n) => String(n).padStart(2, "0"));
  return `${now.getFullYear()}-${month}-${day}`;
}

export const daysBetween = (from: string, to: string): number =>
  Math.round((at(to).getTime() - at(from).getTime()) / 86_400_000);

/** Where a day lies in its year, 0 to 1. */
export function yearShare(iso: string): number {
  const start = Date.UTC(at(iso).getUTCFullYear(), 0, 1);
  const end = Date.UTC(at(iso).getUTCFullYear() + 1, 0, 1);
  return (at(iso).getTime() - start) / (end - start);
}

export function addDays(iso: string, days: number): string {
  return new Date(at(iso).getTime() + days * 86_400_000).toISOString().slice(0, 10);
}

/** The day `steps` periods after `iso`. */
export function stepDay(iso: string, steps: number, period: "week" | "month"): string {
  const date = at(iso);
  if (period === "week") date.setUTCDate(date.getUTCDate() + 7 * steps);
  else date.setUTCMonth(date.getUTCMonth() + steps);
  return date.toISOString().slice(0, 10);
}

/** The time of day of a moment, as in 19:05. */
export const formatTime = (moment: string): string =>
  new Date(moment).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
