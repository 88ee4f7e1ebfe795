import { ref } from "vue";
import { formatWhole, MINUS, UNKNOWN } from "./values";

/** Signs of currencies by their codes; others are written with their code. */
const SIGNS: Record<string, string> = { GBP: "£", EUR: "€", USD: "$", JPY: "¥", INR: "₹" };

/** The currency of the market one is in: what is on a screen is all of one market. */
export const currency = ref("");

/** A unit with the currency's sign in the place of the word. */
export const moneyUnit = (unit: string): string =>
  unit.replace("currency", SIGNS[currency.value] ?? currency.value);

/** An amount with its currency's sign, by default that of the market; with cents below a hundred, or always where `exact`. */
export function formatMoney(
  value: number | null | undefined,
  exact = false,
  code = currency.value,
): string {
  if (value === null || value === undefined) return UNKNOWN;
  const size = Math.abs(value);
  const cents = size.toFixed(2);
  const amount =
    size < 100
      ? cents
      : exact
        ? formatWhole(Math.floor(Number(cents))) + cents.slice(-3)
        : formatWhole(size);
  const minus = value < 0 && /[1-9]/.test(amount) ? MINUS : "";
  const sign = SIGNS[code];
  return sign ? `${minus}${sign}${amount}` : `${code} ${minus}${amount}`.trim();
}

/** An amount on an axis: without cents where it has none. */
export const formatRound = (value: number): string => formatMoney(value).replace(/\.00$/, "");
