import type { Mapping } from "@/api/intake";

export const ENCODINGS: Record<string, string> = {
  "utf-8": "UTF-8",
  "utf-16": "UTF-16",
  cp1252: "Windows-1252",
};
export const SEPARATORS: Record<string, string> = {
  ",": "commas",
  ";": "semicolons",
  "\t": "tabs",
  "|": "bars",
};
export const NUMBERS = [
  "1234.5",
  "1,234.5",
  "1 234.5",
  "1'234.5",
  "1234,5",
  "1.234,5",
  "1 234,5",
  "1'234,5",
];
export const DATES: Record<Mapping["dates"], string> = {
  ymd: "year, month, day",
  dmy: "day, month, year",
  mdy: "month, day, year",
  "iso week": "ISO weeks, 2026-W46",
  ym: "year, month",
  my: "month, year",
  days: "a spreadsheet’s days",
};
export const NAMED: Record<Mapping["named"], string> = {
  "first day of a week": "the first day of a week",
  "last day of a week": "the last day of a week",
  "day of a month": "a day of a month",
};

/** A number as files of this mapping write it. */
export const numberOf = ({ grouping, decimal }: Mapping): string => `1${grouping}234${decimal}5`;

/** How a file was read, in a sentence. */
export function describeMapping(mapping: Mapping): string {
  if (!mapping.table) return "left out.";
  const columns = mapping.columns.map(
    ({ column, to, unit }) => `${column} is ${to}${unit ? ` in ${unit}` : ""}`,
  );
  if (mapping.spread) columns.push(`${mapping.spread} stand below their dates`);
  for (const [name, value] of Object.entries(mapping.fixed)) columns.push(`${name} is ${value}`);
  const where = { name: "in the file’s name", above: "above the names", "": "" }[mapping.week_in];
  const parts = [
    `read as ${mapping.table}: ${columns.join(", ")}`,
    `numbers like ${numberOf(mapping)}`,
    `dates as ${DATES[mapping.dates]}, each ${NAMED[mapping.named]}`,
    where ? `the week stands ${where}` : "",
  ];
  return `${parts.filter(Boolean).join("; ")}.`;
}
