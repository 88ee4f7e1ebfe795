const THOUSANDS = /^[1-9]\d{0,2}(,\d{3})+(\.\d*)?$/;
const CONTINENTAL = /^[1-9]\d{0,2}(\.\d{3})+,\d*$/;
const DECIMAL_COMMA = /^-?\d*,\d+$/;

/** A number as it is typed in either way of writing: 1,200.50 and 1.200,50 alike; undefined for what is none. */
export function typedNumber(text: string): number | undefined {
  const bare = text.replace("%", "").replace("−", "-").replaceAll(/\s/g, "");
  if (!bare) return undefined;
  const plain = THOUSANDS.test(bare)
    ? bare.replaceAll(",", "")
    : CONTINENTAL.test(bare)
      ? bare.replaceAll(".", "").replace(",", ".")
      : DECIMAL_COMMA.test(bare)
        ? bare.replace(",", ".")
        : bare;
  const found = Number(plain);
  return Number.isFinite(found) ? found : undefined;
}
