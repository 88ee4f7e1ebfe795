/** A number as it is typed, with a point or a comma; null for none. */
export function numberOf(text: string): number | null {
  const plain = text.trim().replace(",", ".").replace("−", "-");
  const value = Number(plain);
  return plain && Number.isFinite(value) ? value : null;
}

/** A number in full, as it is typed. */
export const plainNumber = (value: number): string =>
  value.toLocaleString("en-GB", { useGrouping: false, maximumFractionDigits: 10 });
