import { shownUnit } from "@/format/figure";
import type { FigureRow, Schemas } from "@/api/client";

/** What can be typed next. `text` replaces what was typed; `whole`: it is a condition already. */
export interface Suggestion {
  text: string;
  label: string;
  hint: string;
  whole: boolean;
}

type SignalRow = Schemas["SignalRow"];
type CategoryRow = Schemas["CategoryRow"];

const KEYWORDS: Suggestion[] = [
  { text: "terms hold ", label: "terms hold …", hint: "words in the name or a term", whole: false },
  { text: "terms hold exactly ", label: "terms hold exactly …", hint: "the phrase as it is", whole: false },
  { text: "terms start with ", label: "terms start with …", hint: "", whole: false },
  { text: "term words >= ", label: "term words …", hint: "how many words a term has", whole: false },
  { text: "terms lack ", label: "terms lack …", hint: "none of them holds it", whole: false },
  { text: "top 4 of 10 reviews < 120", label: "top 4 of 10 reviews < 120", hint: "at least four of the ten most clicked listings", whole: false },
  { text: "peak in ", label: "peak in …", hint: "months", whole: false },
  { text: "category ", label: "category …", hint: "and those below it", whole: false },
  { text: "decided open", label: "decided open", hint: "no decision yet; or keep, park, pass", whole: true },
  { text: "signal ", label: "signal …", hint: "raised", whole: false },
  { text: "no signal ", label: "no signal …", hint: "not raised", whole: false },
]; // prettier-ignore

/** What is asked most, in this order, before anything is typed. */
const FIRST = ["shape", "price", "searches", "drift", "reviews", "headroom", "launches", "breadth"];
const MAX_SUGGESTIONS = 9;
const COMPARED = /[<>=≤≥]|\.\.|\d/;

/** Whether a text begins like a condition; anything else is words to look for. */
export function isCondition(text: string, figures: FigureRow[]): boolean {
  const low = text.toLowerCase();
  if (/^(terms|term words|drawn|top|no signal|signal|category|decided|peak in) /.test(low))
    return true;
  return (
    COMPARED.test(low) &&
    figures.some((f) =>
      [f.condition_name, f.key, f.label.toLowerCase()].some((n) => n && low.startsWith(n)),
    )
  );
}

function ofFigure(figure: FigureRow): Suggestion {
  const name = figure.condition_name ?? figure.key;
  const compares = figure.choices.length || figure.type === "flag" ? "= " : ">= ";
  const unit = shownUnit(figure.unit) ? `, ${shownUnit(figure.unit)}` : "";
  const hint =
    figure.label.toLowerCase() === name ? shownUnit(figure.unit) : `${figure.label}${unit}`;
  return { text: `${name} ${compares}`, label: name, hint, whole: false };
}

/** Choices of a figure that was typed with “=”. */
function choices(low: string, figures: FigureRow[]): Suggestion[] {
  const figure = figures.find((f) => f.condition_name && low.startsWith(`${f.condition_name} =`));
  if (!figure) return [];
  const words = figure.type === "flag" ? ["yes", "no"] : figure.choices;
  const rest = low.slice((figure.condition_name ?? "").length + 2).trim();
  return words
    .filter((word) => word.toLowerCase().startsWith(rest))
    .map((word) => ({
      text: `${figure.condition_name} = ${word}`,
      label: word,
      hint: figure.label,
      whole: true,
    }));
}

const WORDS = new Set(["word", "sentence", "flag", "date", "weeks"]);

/** The figure a text names with nothing to compare it with yet; nothing for words and flags. */
export function comparable(text: string, figures: FigureRow[]): FigureRow | undefined {
  const found = /^(.+?)\s*(?:[<>]=?|[=≤≥]|over|under|between)\s*$/.exec(text.trim().toLowerCase());
  const name = found?.[1];
  return figures.find(
    (f) =>
      f.condition_name &&
      (f.condition_name === name || f.key === name) &&
      !f.choices.length &&
      !WORDS.has(f.type),
  );
}

const MONTHS = ["January", "February", "March", "April", "May", "June", "July", "August", "September",
  "October", "November", "December"]; // prettier-ignore
const DECISIONS: [word: string, hint: string][] = [
  ["open", "no decision yet"],
  ["keep", "kept"],
  ["park", "parked"],
  ["pass", "passed"],
];

/** What follows a keyword, as whole conditions. */
function after(low: string, categories: CategoryRow[]): Suggestion[] | null {
  const [, keyword = "", rest = ""] = /^(peak in|category|decided) ?(.*)$/.exec(low) ?? [];
  const whole = (word: string, hint: string): Suggestion => ({
    text: `${keyword} ${word}`,
    label: word,
    hint,
    whole: true,
  });
  if (keyword === "peak in") {
    // After “or” the next month is offered, and those before it stay.
    const [, before = "", last = ""] = /^(.* or )?([^ ]*)$/.exec(rest) ?? [];
    return MONTHS.filter((month) => month.toLowerCase().startsWith(last)).map((month) => ({
      ...whole(`${before}${month}`, before && "one of several"),
      label: month,
    }));
  }
  if (keyword === "category")
    return categories
      .filter((one) => one.path.toLowerCase().includes(rest))
      .slice(0, MAX_SUGGESTIONS)
      .map((one) => ({ ...whole(one.name, `${one.niches} niches`), label: one.path }));
  if (keyword === "decided")
    return DECISIONS.filter(([word]) => word.startsWith(rest)).map(([word, hint]) =>
      whole(word, hint),
    );
  return null;
}

/** What to offer for a text that is being typed. */
export function suggest(
  text: string,
  figures: FigureRow[],
  signals: SignalRow[],
  categories: CategoryRow[],
): Suggestion[] {
  const low = text.trimStart().toLowerCase();
  const following = after(low, categories);
  if (following?.length) return following;
  const typable = figures.filter((figure) => figure.condition_name);
  if (!low) {
    const first = FIRST.map((name) => typable.find((f) => f.condition_name === name)).filter(
      (f) => f !== undefined,
    );
    return [...first.map(ofFigure), KEYWORDS[0], KEYWORDS[5]].filter((one) => one !== undefined);
  }
  const named = choices(low, typable);
  if (named.length) return named;
  const signal = /^(no )?signal (.*)$/.exec(low);
  if (signal) {
    return signals
      .filter(
        (s) => s.key.startsWith(signal[2] ?? "") || s.name.toLowerCase().includes(signal[2] ?? ""),
      )
      .slice(0, MAX_SUGGESTIONS)
      .map((s) => ({
        text: `${signal[1] ?? ""}signal ${s.key}`,
        label: s.name,
        hint: s.tone,
        whole: true,
      }));
  }
  if (COMPARED.test(low)) return [];
  const starts = typable.filter(
    (f) => f.condition_name?.startsWith(low) || f.label.toLowerCase().startsWith(low),
  );
  const holds = typable.filter((f) => !starts.includes(f) && f.label.toLowerCase().includes(low));
  const keywords = KEYWORDS.filter((k) => k.label.startsWith(low) && k.text.trim() !== low);
  const found = [...keywords, ...[...starts, ...holds].map(ofFigure)].slice(0, MAX_SUGGESTIONS);
  const words: Suggestion = {
    text: `terms hold ${text.trim()}`,
    label: `terms hold “${text.trim()}”`,
    hint: "words in the name or a term",
    whole: true,
  };
  return /^(terms?|top|peak|category|decided)\b/.test(low) ? found : [words, ...found];
}
