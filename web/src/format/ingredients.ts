import type { FigureRow } from "@/api/client";

const SHORTEST = 5;
const NUMBERS = new Set(["amount", "count", "share", "change", "ratio", "signed", "index"]);
const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");

/**
 * Figures whose names stand in another's formula, longest names first, so that “purchases a year” is
 * not taken for “purchases”: with their values the formula is seen at work.
 */
export function ingredients(figure: FigureRow, figures: FigureRow[]): FigureRow[] {
  let formula = figure.formula.toLowerCase();
  const named = figures
    .filter((one) => one.key !== figure.key && NUMBERS.has(one.type))
    // A key that is a word of the language, such as “periods”, stands for itself in a formula.
    .flatMap((one) =>
      [one.label.toLowerCase(), ...(/[\d._]/.test(one.key) ? [one.key] : [])].map((name) => ({
        name,
        one,
      })),
    )
    .filter(({ name }) => name.length >= SHORTEST)
    .sort((a, b) => b.name.length - a.name.length);
  const found: FigureRow[] = [];
  for (const { name, one } of named) {
    const whole = new RegExp(`(?<![\\w.])${escaped(name)}(?![\\w.])`);
    if (!whole.test(formula)) continue;
    formula = formula.replace(whole, "·");
    if (!found.includes(one)) found.push(one);
  }
  return found;
}
