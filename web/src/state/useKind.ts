import { injectLocal, provideLocal } from "@vueuse/core";
import type { InjectionKey } from "vue";
import { useRoute } from "vue-router";
import { BRANDS, CATEGORIES, type Kind, LISTINGS, NICHES, SELLERS, TERMS } from "@/api/client";
import { formatCount } from "@/format/values";

/** A kind as sentences and addresses name it. */
export interface KindWords {
  of: Kind;
  one: string;
  many: string;
  /** The parameter that says in an address which one is meant. */
  named: "niche" | "term" | "category" | "listing" | "brand" | "seller";
  /** Where its ledger stands, and what that screen is called in a sentence. */
  home: string;
  screen: string;
  /** The page that one of them has of its own. */
  page?: string;
  /** What its curve counts. */
  curve: "searches" | "units";
  /** What its ledger is sorted by until something else is asked. */
  sort: string;
  /** Whether its rows have a rank by a lens, and so a chart. */
  ranked: boolean;
  /** Whether it is matched across markets: what is sold belongs to one. */
  crossing: boolean;
}

/** What all kinds have in common that are known by their sales. */
const SELLING = {
  curve: "units",
  sort: "-sales.units_52w",
  ranked: false,
  crossing: false,
} as const;

export const KINDS: Record<Kind, KindWords> = {
  niches: {
    of: NICHES,
    one: "niche",
    many: "niches",
    named: "niche",
    home: "/field",
    page: "/dossier",
    screen: "the Field",
    curve: "searches",
    sort: "rank",
    ranked: true,
    crossing: true,
  },
  terms: {
    of: TERMS,
    one: "term",
    many: "terms",
    named: "term",
    home: "/terms",
    screen: "Terms",
    // Terms are many more than are ranked with reason, and are first asked for by how much they are searched.
    curve: "searches",
    sort: "-searches_52w",
    ranked: true,
    crossing: true,
  },
  categories: {
    of: CATEGORIES,
    one: "category",
    many: "categories",
    named: "category",
    home: "/catalogue",
    screen: "the Catalogue",
    curve: "searches",
    sort: "-searches_52w",
    ranked: true,
    crossing: true,
  },
  listings: {
    of: LISTINGS,
    one: "listing",
    many: "listings",
    named: "listing",
    home: "/rivals",
    screen: "Rivals",
    page: "/listing",
    ...SELLING,
  },
  brands: {
    of: BRANDS,
    one: "brand",
    many: "brands",
    named: "brand",
    home: "/rivals/brands",
    screen: "Rivals",
    page: "/brand",
    ...SELLING,
  },
  sellers: {
    of: SELLERS,
    one: "seller",
    many: "sellers",
    named: "seller",
    home: "/rivals/sellers",
    screen: "Rivals",
    page: "/seller",
    ...SELLING,
  },
};

const OF_SCREEN: InjectionKey<KindWords> = Symbol("kind");

/** Says of what kind a screen is, to all that stands on it. */
export function provideKind(kind: KindWords): KindWords {
  // The screen itself asks for it as well as what stands on it.
  provideLocal(OF_SCREEN, kind);
  return kind;
}

/** The kind of the screen one stands on. */
export const useKind = (): KindWords => injectLocal(OF_SCREEN, KINDS.niches) ?? KINDS.niches;

/** The kind that an address names, for a screen that shows those ``among``. */
export function useKindNamed(among: KindWords[] = [KINDS.niches, KINDS.terms]): KindWords {
  const route = useRoute();
  const named = among.find((kind) => kind.of === route.query["of"]);
  return provideKind(named ?? among[0] ?? KINDS.niches);
}

/** A number of them, as “1 niche” and “2,700 terms”. */
export const howMany = (kind: KindWords, number: number): string =>
  `${formatCount(number)} ${number === 1 ? kind.one : kind.many}`;
