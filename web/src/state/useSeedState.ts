import { computed, type ComputedRef, type WritableComputedRef } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { How, Seed } from "@/api/terms";
import { usePart } from "./usePart";

export interface UseSeedStateReturn {
  /** The words one came from, in the order they were taken. */
  words: ComputedRef<string[]>;
  how: WritableComputedRef<How>;
  without: WritableComputedRef<string>;
  exact: WritableComputedRef<boolean>;
  /** Letters of the next word, and of the one before. */
  after: ComputedRef<string>;
  before: ComputedRef<string>;
  /** Begins anew from some words, or goes on with them; letters of a word that was not chosen are dropped. */
  go: (words: string[], more?: { after?: string; before?: string; drawn?: number }) => void;
  /** The number by which the first word was drawn, where it was. */
  drawn: ComputedRef<number | undefined>;
  /** The same as the API takes it; nothing without a word. */
  seed: ComputedRef<Seed | undefined>;
}

/** The chain of words that terms are searched from, its letters and how they are searched, in the address. */
export function useSeedState(): UseSeedStateReturn {
  const part = usePart();
  const route = useRoute();
  const router = useRouter();
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
      term: undefined,
      drawn: more.drawn ?? (list[0] === words.value[0] ? drawn.value : undefined),
    };
    void router.push({ path: route.path, query });
  }

  const joined = computed(() => state.how.value === "all");
  const seed = computed<Seed | undefined>(() =>
    words.value.length
      ? {
          // All of the words are one search; after any other way the words that were added narrow what it found.
          seed: joined.value ? words.value.join(" ") : (words.value[0] ?? ""),
          also: (!joined.value && words.value.slice(1).join(" ")) || undefined,
          how: state.how.value === "all" ? undefined : state.how.value,
          without: state.without.value || undefined,
          exact: state.exact.value ? "yes" : undefined,
          after: after.value || undefined,
          before: before.value || undefined,
        }
      : undefined,
  );
  return { words, after, before, ...state, go, drawn, seed };
}
