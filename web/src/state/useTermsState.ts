import { computed, type ComputedRef, type WritableComputedRef } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { How, SeedQuery } from "@/api/terms";
import { usePart } from "./usePart";

export interface UseTermsStateReturn {
  /** The words one came from, in the order they were taken. */
  words: ComputedRef<string[]>;
  how: WritableComputedRef<How>;
  without: WritableComputedRef<string>;
  exact: WritableComputedRef<boolean>;
  /** Letters of the next word, and of the one before. */
  after: ComputedRef<string>;
  before: ComputedRef<string>;
  sort: WritableComputedRef<string>;
  /** Begins anew from some words, or goes on with them; letters of a word that was not chosen are dropped. */
  go: (words: string[], more?: { after?: string; before?: string; drawn?: number }) => void;
  /** The number by which the first word was drawn, where it was. */
  drawn: ComputedRef<number | undefined>;
  ask: ComputedRef<SeedQuery | undefined>;
}

const USUAL = "-searches_52w";

/** What the terms screen shows lives in its address: the chain of words, its letters and how it searches. */
export function useTermsState(): UseTermsStateReturn {
  const part = usePart();
  const route = useRoute();
  const router = useRouter();
  const market = part(
    "market",
    ([id]) => id,
    (id) => id ?? "",
  );
  const words = part(
    "word",
    (texts) => texts.filter(Boolean),
    (list) => list,
    "push",
  );
  const after = part(
    "after",
    ([text]) => text ?? "",
    (text) => text,
    "push",
  );
  const before = part(
    "before",
    ([text]) => text ?? "",
    (text) => text,
    "push",
  );
  const state = {
    how: part<How>("how", ([text]) => (text as How | undefined) ?? "all", (how) => (how === "all" ? "" : how), "push"),
    without: part("without", ([text]) => text ?? "", (text) => text, "push"),
    exact: part("exact", ([text]) => text === "yes", (on) => (on ? "yes" : ""), "push"),
    sort: part("sort", ([key]) => key ?? USUAL, (key) => (key === USUAL ? "" : key), "push"),
  }; // prettier-ignore
  const drawn = computed(() => Number(route.query["drawn"]) || undefined);

  function go(
    list: string[],
    more: { after?: string; before?: string; drawn?: number } = {},
  ): void {
    const query = {
      ...route.query,
      word: list.length ? list : undefined,
      after: more.after || undefined,
      before: more.before || undefined,
      drawn: more.drawn ?? (list[0] === words.value[0] ? drawn.value : undefined),
    };
    void router.push({ path: route.path, query });
  }

  const joined = computed(() => state.how.value === "all");
  const ask = computed<SeedQuery | undefined>(() =>
    words.value.length
      ? {
          of: "terms",
          market: market.value,
          // All of the words are one search; after any other way the words that were added narrow what it found.
          seed: joined.value ? words.value.join(" ") : (words.value[0] ?? ""),
          also: (!joined.value && words.value.slice(1).join(" ")) || undefined,
          how: state.how.value === "all" ? undefined : state.how.value,
          without: state.without.value || undefined,
          exact: state.exact.value ? "yes" : undefined,
          after: after.value || undefined,
          before: before.value || undefined,
          sort: state.sort.value,
        }
      : undefined,
  );
  return { words, after, before, ...state, go, drawn, ask };
}
