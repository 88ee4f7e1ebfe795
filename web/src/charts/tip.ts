/** What stands in a chart's tip: lines of text, never markup, since names and titles are other people's. */
export type TipLine = string | (string | HTMLElement)[];

/** A part of a line that stands out: the figure itself. */
export function strong(text: string): HTMLElement {
  const made = document.createElement("b");
  made.textContent = text;
  return made;
}

/** Lines as the elements that the chart shows; text goes in as text. */
export function tip(lines: TipLine[]): HTMLElement {
  const box = document.createElement("div");
  for (const line of lines) {
    const row = document.createElement("div");
    row.append(...(typeof line === "string" ? [line] : line));
    box.append(row);
  }
  return box;
}

type Formatter = (...given: unknown[]) => unknown;

/** The option with a tip that can hold no markup: what a formatter returns as text is shown as text. */
export function withSafeTip<T extends object>(option: T): T {
  const tooltip = "tooltip" in option ? (option.tooltip as Record<string, unknown>) : undefined;
  if (typeof tooltip?.formatter !== "function") return option;
  const told = tooltip.formatter as Formatter;
  const formatter: Formatter = (...given) => {
    const found = told(...given);
    return Array.isArray(found) ? tip(found as TipLine[]) : tip([String(found ?? "")]);
  };
  return { ...option, tooltip: { ...tooltip, formatter } };
}
