import {
  computed,
  type ComputedRef,
  type MaybeRefOrGetter,
  ref,
  type Ref,
  toValue,
  watch,
} from "vue";

export interface UseListboxReturn {
  /** Place of the marked option; −1 for none. */
  marked: Ref<number>;
  /** Marks the option some steps on, round and round. */
  move: (steps: number) => void;
  /** What the field must say of its list, for screen readers (WAI-ARIA 1.2, combobox pattern). */
  combobox: ComputedRef<Record<string, string | undefined>>;
  optionId: (place: number) => string;
}

/** Options below a field that is typed in, walked with the arrow keys while the field keeps the focus. */
export function useListbox(
  id: string,
  count: MaybeRefOrGetter<number>,
  shown: MaybeRefOrGetter<boolean>,
): UseListboxReturn {
  const marked = ref(-1);
  const optionId = (place: number): string => `${id}-${place}`;
  watch(
    () => toValue(count),
    (many) => (marked.value = Math.min(marked.value, many - 1)),
  );
  return {
    marked,
    optionId,
    move: (steps) => {
      const many = toValue(count);
      if (!many) return;
      const from = marked.value < 0 && steps < 0 ? 0 : marked.value;
      marked.value = (from + steps + many) % many;
    },
    combobox: computed(() => ({
      // With ^ it reaches the input alone; as the library's own property it would mark the frame round it as well.
      "^role": "combobox",
      "aria-autocomplete": "list",
      "aria-controls": id,
      "aria-expanded": String(toValue(shown)),
      "aria-activedescendant":
        toValue(shown) && marked.value >= 0 ? optionId(marked.value) : undefined,
    })),
  };
}
