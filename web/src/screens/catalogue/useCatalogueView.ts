import { computed, type ComputedRef, type WritableComputedRef } from "vue";
import { useRoute, useRouter } from "vue-router";

/** The views beside the tree: one category at a glance, all as an icicle, or openness against settledness. */
export const VIEWS = [
  { title: "at a glance", value: "" },
  { title: "as an icicle", value: "icicle" },
  { title: "open against settled", value: "chart" },
];

export interface UseCatalogueViewReturn {
  view: WritableComputedRef<string>;
  next: () => void;
  /** The category that the icicle begins with; empty for the whole tree. */
  under: ComputedRef<string>;
  beginWith: (category: string) => void;
  /** From a chart to the category: one step, so that back leads to the chart again. */
  showNamed: (category: string) => void;
}

/** The view beside the tree, as the address names it. */
export function useCatalogueView(): UseCatalogueViewReturn {
  const route = useRoute();
  const router = useRouter();
  const view = computed({
    get: () => VIEWS.find((one) => one.value === route.query["view"])?.value ?? "",
    set: (value) => void router.replace({ query: { ...route.query, view: value || undefined } }),
  });
  return {
    view,
    next: () => {
      const at = VIEWS.findIndex((one) => one.value === view.value);
      view.value = VIEWS[(at + 1) % VIEWS.length]?.value ?? "";
    },
    under: computed(() => {
      const named = route.query["under"];
      return typeof named === "string" ? named : "";
    }),
    beginWith: (category) =>
      void router.push({ query: { ...route.query, under: category || undefined } }),
    showNamed: (category) =>
      void router.push({ query: { ...route.query, view: undefined, category } }),
  };
}
