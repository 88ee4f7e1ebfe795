import { typedNumber } from "@/format/typed";

/** Fields of a plan's form: where they stand in its document, and how they are typed. */
export interface Field {
  key: string;
  label: string;
  /** Shares are typed in percent; a list has one figure a month. */
  as?: "share" | "text" | "day" | "shares" | "factors" | "list";
  /** What is taken where nothing is typed. */
  usual: string;
}

/** Where figures come from. */
const SOURCE: Field[] = [
  { key: "source", label: "source", as: "text", usual: "letter, call …" },
  { key: "day", label: "of", as: "day", usual: "" },
];
export const QUOTE: Field[] = [
  { key: "name", label: "supplier", as: "text", usual: "" },
  { key: "minimum", label: "minimum order", usual: "1" },
  { key: "carton", label: "units a carton", usual: "1" },
  { key: "making_days", label: "days to dispatch", usual: "30" },
  { key: "deposit", label: "deposit with the order, %", as: "share", usual: "30" },
  { key: "balance_days", label: "balance due, days after dispatch", usual: "0" },
  { key: "valid_until", label: "valid until", as: "day", usual: "" },
  ...SOURCE,
];
export const WAY: Field[] = [
  { key: "name", label: "way", as: "text", usual: "sea" },
  { key: "days", label: "days", usual: "needed" },
  { key: "per_unit", label: "a unit", usual: "0" },
  { key: "per_kg", label: "a kg", usual: "0" },
  { key: "per_m3", label: "a m³", usual: "0" },
  { key: "fixed", label: "fixed", usual: "0" },
  { key: "share", label: "of the units, %", as: "share", usual: "100" },
  { key: "source", label: "source", as: "text", usual: "" },
];
export const SELLING: Field[] = [
  { key: "price", label: "price a buyer pays", usual: "median of the niche" },
  { key: "tax", label: "value added tax, %", as: "share", usual: "0" },
  { key: "commission", label: "commission, %", as: "share", usual: "15, assumed" },
  { key: "handling", label: "handling a unit", usual: "3, assumed" },
  { key: "storage", label: "storage a unit a month", usual: "0, assumed" },
  { key: "storage_peak", label: "the same in the peak months", usual: "no dearer" },
  { key: "peak_months", label: "peak months, by number", as: "list", usual: "10 11 12" },
  { key: "returned", label: "returns, %", as: "share", usual: "of the niche" },
  { key: "resold", label: "of returns resold, %", as: "share", usual: "50, assumed" },
  { key: "advertising", label: "advertising by month, % of the price", as: "shares", usual: "10, assumed" },
  { key: "prices", label: "price by month, % of the above", as: "factors", usual: "100" },
  { key: "payout_weeks", label: "weeks to the payout", usual: "2" },
  ...SOURCE,
]; // prettier-ignore
export const PRODUCT: Field[] = [
  { key: "weight_g", label: "weight, g", usual: "median of the niche" },
  { key: "length_mm", label: "length, mm", usual: "" },
  { key: "width_mm", label: "width, mm", usual: "" },
  { key: "height_mm", label: "height, mm", usual: "" },
  { key: "duty", label: "duty, %", as: "share", usual: "0, assumed" },
  { key: "import_tax", label: "tax on imports, %", as: "share", usual: "0" },
  ...SOURCE,
];
export const OWN: Field[] = [
  { key: "units_a_day", label: "a rival’s units a day", usual: "" },
  { key: "searches_now", label: "searches now", usual: "" },
  { key: "searches_then", label: "searches when goods are there", usual: "" },
  { key: "days", label: "days", usual: "" },
  { key: "quantity", label: "what you reckoned", usual: "" },
];

/** A value as it is typed. */
export function typedOf(field: Field, value: unknown): string {
  if (value === null || value === undefined) return "";
  const one = (each: unknown): string => {
    const share = field.as === "share" || field.as === "shares" || field.as === "factors";
    return String(share ? Number((Number(each) * 100).toPrecision(6)) : each);
  };
  return Array.isArray(value) ? value.map(one).join(" ") : one(value);
}

/** What was typed as a value: undefined for what is no number. */
export function valueOf(field: Field, text: string): unknown {
  if (!text.trim()) return null;
  if (field.as === "text" || field.as === "day") return text.trim();
  const share = field.as === "share" || field.as === "shares" || field.as === "factors";
  const number = (part: string): number | undefined => {
    const found = typedNumber(part);
    return found !== undefined && share ? found / 100 : found;
  };
  if (field.as === "shares" || field.as === "factors" || field.as === "list") {
    const all = text.trim().split(/[\s;]+/).map(number); // prettier-ignore
    return all.includes(undefined) ? undefined : all;
  }
  return number(text);
}
