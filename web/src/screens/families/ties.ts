import type { FamilyRow } from "@/api/families";

type Tie = FamilyRow["ties"][number];

/** What can tie niches to one family, as it is told. */
export const TIES: Record<Tie, { short: string }> = {
  brands: { short: "brands" },
  sellers: { short: "sellers" },
  buyers: { short: "buyers" },
  words: { short: "words" },
};
