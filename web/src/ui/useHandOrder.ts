import { useSortable } from "@vueuse/integrations/useSortable";
import { type MaybeRefOrGetter, type Ref, toValue, watch } from "vue";

export interface UseHandOrderOptions {
  /** What a row is taken by, as a selector; the whole row by default. */
  handle?: string;
  /** Whether rows can be put elsewhere now. */
  enabled?: MaybeRefOrGetter<boolean>;
}

/**
 * Rows that can be dragged to another place, by mouse and by touch. What moves is the data: the row itself goes back
 * where it was, and is drawn at its new place when `move` has put the data in order. Keys are the caller's.
 */
export function useHandOrder(
  list: Ref<HTMLElement | null>,
  move: (from: number, to: number) => void,
  { handle, enabled = true }: UseHandOrderOptions = {},
): void {
  const { option } = useSortable(list, [], {
    ...(handle ? { handle } : {}),
    animation: 120,
    disabled: !toValue(enabled),
    watchElement: true,
    onUpdate: ({ oldIndex, newIndex, item, from }) => {
      if (oldIndex === undefined || newIndex === undefined) return;
      from.insertBefore(item, from.children[oldIndex + (oldIndex > newIndex ? 1 : 0)] ?? null);
      move(oldIndex, newIndex);
    },
  });
  watch(
    () => toValue(enabled),
    (on) => option("disabled", !on),
  );
}
