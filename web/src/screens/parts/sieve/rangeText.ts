import type { FigureRow } from "@/api/client";

/** A range of a figure as a condition; shares and changes in percent, which can mean one thing alone. */
export function rangeText(figure: FigureRow, low: number | null, high: number | null): string {
  const percent = figure.type === "share" || figure.type === "change";
  const bound = (value: number | null): string => {
    if (value === null) return "";
    return percent ? `${Number((value * 100).toPrecision(10))}%` : String(value);
  };
  return `${figure.condition_name ?? figure.key} ${bound(low)}..${bound(high)}`;
}
