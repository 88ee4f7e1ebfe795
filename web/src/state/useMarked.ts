import { computed, type ComputedRef, ref } from "vue";

/** Niches that stand side by side at most. */
export const MAX_COMPARED = 6;

export interface UseMarkedReturn {
  /** Ids of the marked niches in the order they were marked. */
  marked: ComputedRef<string[]>;
  isMarked: (niche: string) => boolean;
  toggle: (niche: string) => void;
  mark: (niches: string[]) => void;
  clear: () => void;
}

/** Niches that were marked, to do something with all of them. */
export function useMarked(): UseMarkedReturn {
  const set = ref(new Set<string>());
  return {
    marked: computed(() => [...set.value]),
    isMarked: (niche) => set.value.has(niche),
    toggle: (niche) => {
      const next = new Set(set.value);
      if (!next.delete(niche)) next.add(niche);
      set.value = next;
    },
    mark: (niches) => (set.value = new Set([...set.value, ...niches])),
    clear: () => (set.value = new Set()),
  };
}
