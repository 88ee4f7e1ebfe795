/** Figures as a merchant reads them. Unknown is an en dash, never 0. */

export const UNKNOWN = "–";
const MINUS = "−";

const whole = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 0 });

type Maybe = number | null | undefined;

export const sayCount = (value: Maybe): string => (value == null ? UNKNOWN : whole.format(value));

/** An amount of money without its currency, which the bar names once. */
export function sayPrice(value: Maybe): string {
  if (value == null) return UNKNOWN;
  return value < 100 ? value.toFixed(2) : whole.format(value);
}

/** A bound or an edge of a figure of some kind: percent for shares and changes. */
export function sayBound(value: number, kind: string): string {
  if (kind === "share" || kind === "change")
    return `${Number((value * 100).toPrecision(3))}%`.replace("-", MINUS);
  if (Math.abs(value) >= 100) return whole.format(value).replace("-", MINUS);
  return String(Number(value.toPrecision(3))).replace("-", MINUS);
}

export const sayShare = (value: Maybe): string =>
  value == null ? UNKNOWN : `${(value * 100).toFixed(0)}%`;

/** A signed change: percent, beyond tenfold a factor, near zero in words. As verdict.say_change. */
export function sayChange(value: Maybe): string {
  if (value == null) return UNKNOWN;
  if (value >= 99) return "from ~0";
  if (value >= 9) return `×${(value + 1).toFixed(0)}`;
  if (value <= -0.99) return "to ~0";
  if (value <= -0.9) return `÷${(1 / (1 + value)).toFixed(0)}`;
  const percent = Math.round(Math.abs(value) * 100);
  if (percent === 0) return "±0%";
  return `${value > 0 ? "+" : MINUS}${percent}%`;
}

const day = new Intl.DateTimeFormat("en-GB", {
  day: "numeric",
  month: "short",
  year: "numeric",
  timeZone: "UTC",
});

const at = (iso: string): Date => new Date(`${iso}T00:00:00Z`);

export const sayDay = (iso: string): string => day.format(at(iso));

export const daysBetween = (from: string, to: string): number =>
  Math.round((at(to).getTime() - at(from).getTime()) / 86_400_000);

/** Where a day lies in its year, 0 to 1. */
export function yearShare(iso: string): number {
  const start = Date.UTC(at(iso).getUTCFullYear(), 0, 1);
  const end = Date.UTC(at(iso).getUTCFullYear() + 1, 0, 1);
  return (at(iso).getTime() - start) / (end - start);
}

/** The day `steps` periods after `iso`. */
export function stepDay(iso: string, steps: number, period: "week" | "month"): string {
  const date = at(iso);
  if (period === "week") date.setUTCDate(date.getUTCDate() + 7 * steps);
  else date.setUTCMonth(date.getUTCMonth() + steps);
  return date.toISOString().slice(0, 10);
}

/** The time of day of a moment, as in 19:05. */
export const sayTime = (moment: string): string =>
  new Date(moment).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
