import { useQuery } from "@tanstack/vue-query";
import {
  computed,
  type ComputedRef,
  type MaybeRefOrGetter,
  toValue,
  type WritableComputedRef,
} from "vue";
import { useRoute, useRouter } from "vue-router";
import { catalogueQueries, type TreeRow } from "@/api/catalogue";

export const MOST_SEARCHED = "-searches_52w";

const useTree = (market: MaybeRefOrGetter<string | undefined>, ask: ComputedRef<Ask>) =>
  useQuery(
    computed(() => ({
      ...catalogueQueries.tree(toValue(market), ask.value),
      enabled: Boolean(toValue(market)),
    })),
  );
type Ask = Parameters<typeof catalogueQueries.tree>[1];

export interface UseCatalogueReturn {
  tree: ReturnType<typeof useTree>;
  rows: ComputedRef<TreeRow[]>;
  /** The category the address names, or the first row. */
  chosen: WritableComputedRef<string | undefined>;
  opened: ComputedRef<string[]>;
  sort: WritableComputedRef<string>;
  /** Letters that the names must have. */
  find: WritableComputedRef<string>;
  /** Conditions that categories must meet, as they are typed. */
  conditions: WritableComputedRef<string[]>;
  /** A figure that rows show besides; empty for none. */
  figure: WritableComputedRef<string>;
  /** Weights that differ from those of the settings, as an address has them. */
  lens: WritableComputedRef<string>;
  toggle: (id: string, open: boolean) => void;
}

/** The tree as the address has it: what is open, sorted, sought and chosen. */
export function useCatalogue(market: MaybeRefOrGetter<string | undefined>): UseCatalogueReturn {
  const route = useRoute();
  const router = useRouter();
  const list = (name: string): string[] =>
    [route.query[name] ?? []].flat().filter((one): one is string => Boolean(one));
  const text = (name: string, usual = ""): string => String(route.query[name] ?? usual);
  const write = (changed: Record<string, string | string[] | undefined>): void =>
    void router.replace({ query: { ...route.query, ...changed } });

  const ask = computed<Ask>(() => ({
    open: list("open"),
    sort: text("sort", MOST_SEARCHED),
    find: text("find"),
    c: list("c"),
    figures: text("figure"),
    lens: text("lens"),
  }));
  const tree = useTree(market, ask);
  const rows = computed(() => tree.data.value?.rows ?? []);
  const opened = computed(() => list("open"));
  const field = (name: string, usual = ""): WritableComputedRef<string> =>
    computed({
      get: () => text(name, usual),
      set: (value) => write({ [name]: value === usual ? undefined : value || undefined }),
    });
  return {
    tree,
    rows,
    chosen: computed({
      get: () => text("category") || rows.value[0]?.id,
      set: (id) => write({ category: id }),
    }),
    opened,
    sort: field("sort", MOST_SEARCHED),
    find: field("find"),
    conditions: computed({
      get: () => list("c"),
      // A condition more is a step that back takes back.
      set: (texts) => void router.push({ query: { ...route.query, c: texts } }),
    }),
    figure: field("figure"),
    lens: field("lens"),
    toggle: (id, open) =>
      write({ open: [...opened.value.filter((one) => one !== id), ...(open ? [id] : [])] }),
  };
}
