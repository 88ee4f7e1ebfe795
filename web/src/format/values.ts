/** Figures as a merchant reads them. Unknown is an en dash, never 0. */

export const UNKNOWN = "–";
export const MINUS = "−";

type Maybe = number | null | undefined;

/** A whole number with its thousands apart. The browser's own formats would load their tables first, 50 ms of every
 *  start on a small machine. */
export const formatWhole = (value: number): string =>
  String(Math.round(value) || 0).replace(/\B(?=(\d{3})+$)/g, ",");

export const formatCount = (value: Maybe): string => (value == null ? UNKNOWN : formatWhole(value));

/** Units that are known, or else what is estimated from sales ranks, marked as such. */
export const formatUnits = (known: Maybe, estimated: Maybe): string =>
  known == null && estimated != null ? `≈${formatWhole(estimated)}` : formatCount(known);

/** A bound or an edge of a figure of some type: percent for shares and changes. */
export function formatBound(value: number, type: string): string {
  if (type === "share" || type === "change")
    return `${Number((value * 100).toPrecision(3))}%`.replace("-", MINUS);
  if (Math.abs(value) >= 100) return formatWhole(value).replace("-", MINUS);
  return String(Number(value.toPrecision(3))).replace("-", MINUS);
}

export const formatShare = (value: Maybe): string =>
  value == null ? UNKNOWN : `${(value * 100).toFixed(0)}%`;

const FOLD = 5;
const NOTHING = 100;

/** A change as a merchant reads it: percent, from five-fold on a multiple. As the server's format_change. */
export function formatChange(value: Maybe): string {
  if (value == null) return UNKNOWN;
  if (Math.abs(value) < 0.005) return "unchanged";
  if (value <= 1 / NOTHING - 1) return "to almost nothing";
  return value < 1 / FOLD - 1 ? `to 1/${(1 / (1 + value)).toFixed(0)}` : formatLimit(value);
}

/** The same as an end of an interval: 0% where it rounds to nothing, falls in percent. */
export function formatLimit(value: Maybe): string {
  if (value == null) return UNKNOWN;
  if (value >= NOTHING - 1) return "from almost nothing";
  if (value >= FOLD - 1) return `${(value + 1).toFixed(0)}-fold`;
  const sign = Math.abs(value) < 0.005 ? "" : value > 0 ? "+" : MINUS;
  return `${sign}${Math.round(Math.abs(value) * 100)}%`;
}

/** An interval of a change, as in “−3% to +12%”. */
export const formatInterval = (low: Maybe, high: Maybe): string =>
  `${formatLimit(low)} to ${formatLimit(high)}`;

/** A change where there is room for a few letters. */
export const formatBrief = (value: Maybe): string =>
  formatChange(value).replace("almost nothing", "~0").replace("unchanged", "0%");

/** What a change multiplies by, as in 1.42. */
function formatTimes(value: Maybe): string {
  if (value == null) return UNKNOWN;
  const times = 1 + value;
  return times < 0.1 ? times.toPrecision(2) : times.toFixed(times < 10 ? 2 : 0);
}

/** A change as what the season and the drift make of it: 1.42 = 1.51 (season) × 0.94 (drift). */
export function splitText(figures: {
  growth_13w_raw: number | null;
  growth_13w_season: number | null;
  growth_13w_drift: number | null;
}): string {
  const { growth_13w_raw: raw, growth_13w_season: season, growth_13w_drift: drift } = figures;
  if (raw === null || drift === null) return `${formatChange(raw)}, split unknown`;
  return `${formatTimes(raw)} = ${formatTimes(season)} (season) × ${formatTimes(drift)} (drift)`;
}

const at = (iso: string): Date => new Date(`${iso}T00:00:00Z`);

export const MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ");

/** A day as the verdicts say it: 5 Sep 2026. */
export function formatDay(iso: string): string {
  const day = at(iso);
  return `${day.getUTCDate()} ${MONTHS[day.getUTCMonth()]} ${day.getUTCFullYear()}`;
}

/** A day without its year, where the year is shown next to it. */
export function formatShortDay(iso: string): string {
  const day = at(iso);
  return `${day.getUTCDate()} ${MONTHS[day.getUTCMonth()]}`;
}

/** The day of a moment on the machine's own calendar. */
function dayHere(moment: Date): string {
  const [month, day] = [moment.getMonth() + 1, moment.getDate()].map((n) =>
    String(n).padStart(2, "0"),
  );
  return `${moment.getFullYear()}-${month}-${day}`;
}

/** Today on the machine's own calendar. */
export const today = (): string => dayHere(new Date());

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

/** A moment by its day and time here, as in 5 Sep 2026, 19:05. */
export const formatMoment = (moment: string): string =>
  `${formatDay(dayHere(new Date(moment)))}, ${formatTime(moment)}`;
