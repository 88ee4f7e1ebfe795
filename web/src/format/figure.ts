import type { FigureRow } from "@/api/client";
import { formatChange, formatCount, formatDay, UNKNOWN } from "./values";
import { formatMoney } from "./money";

type Shift = { from: string; size: number };
type Season = { rise: string; wind_down: string };

/** Weeks (months) of the year: a run of them, also round its turn, by its ends; others one by one. */
function formatWeeks(weeks: number[]): string {
  const run = weeks.every((week, i) => i === 0 || week === (weeks[i - 1] ?? 0) + 1 || week === 1);
  return run && weeks.length > 1 ? `${weeks[0]} to ${weeks.at(-1)}` : weeks.join(", ");
}

function formatList(type: FigureRow["type"], values: unknown[]): string {
  if (!values.length) return "none";
  if (type === "shifts")
    return (values as Shift[])
      .map((s) => `${formatChange(s.size)} from ${formatDay(s.from)}`)
      .join(", ");
  if (type === "seasons")
    return (values as Season[])
      .map((s) => `${formatDay(s.rise)} to ${formatDay(s.wind_down)}`)
      .join(", ");
  if (type === "weeks") return formatWeeks(values as number[]);
  if (values.every((value) => typeof value === "string")) return values.join(", ");
  const numbers = values as number[];
  return `${Math.min(...numbers).toFixed(2)} to ${Math.max(...numbers).toFixed(2)}`;
}

/** What is shown after a figure's name: nothing that its value says itself by a sign or %, or its name does. */
export function shownUnit(unit: string, label = ""): string {
  const shown = unit.replace(/^(currency|share|change|date)\b,?\s*/, "");
  return label.toLowerCase().includes(shown.toLowerCase()) ? "" : shown;
}

/** A figure's value as its type is shown, whatever it is; unknown is an en dash. */
export function formatFigure(
  figure: Pick<FigureRow, "type" | "unit">,
  value: unknown,
  /** Of amounts; by default the market's. */
  currency?: string,
): string {
  if (value === null || value === undefined) return UNKNOWN;
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) return formatList(figure.type, value);
  if (typeof value === "string") return figure.type === "date" ? formatDay(value) : value;
  const number = value as number;
  if (figure.type === "change") return formatChange(number);
  if (figure.type === "share") return `${(number * 100).toFixed(number < 0.1 ? 1 : 0)}%`;
  if (figure.type === "signed" && figure.unit === "days")
    return formatCount(number).replace("-", "−");
  if (figure.type === "signed" && figure.unit === "weeks")
    return number.toFixed(1).replace("-", "−").replace("−0.0", "0.0");
  if (figure.type === "ratio" || figure.type === "signed")
    return number.toFixed(3).replace("-", "−");
  if (figure.type === "amount" && figure.unit.startsWith("currency"))
    return formatMoney(number, false, currency);
  return Math.abs(number) < 10 && !Number.isInteger(number)
    ? number.toFixed(1).replace("-", "−")
    : formatCount(number);
}
