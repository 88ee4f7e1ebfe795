import { computed, onBeforeUnmount, ref, watch, type WritableComputedRef } from "vue";

export interface UseTypedReturn {
  text: WritableComputedRef<string>;
  /** The field is left: what was typed is saved, unless it is what is stored. */
  leave: () => Promise<void>;
}

/**
 * What is typed into a field of a subject. It stands until it is saved, whatever comes from the server meanwhile: on
 * leaving the field, and where another subject comes up or the field goes before that. What was refused stands on.
 */
export function useTyped<Subject extends { id: string }>(
  subject: () => Subject,
  stored: (subject: Subject) => string,
  save: (subject: Subject, text: string) => Promise<boolean>,
): UseTypedReturn {
  const typed = ref<string>();

  async function saveFor(one: Subject): Promise<void> {
    const text = typed.value;
    if (text === undefined) return;
    if (text.trim() !== stored(one) && !(await save(one, text.trim()))) return;
    if (typed.value === text && subject().id === one.id) typed.value = undefined;
  }

  watch(subject, (now, before) => {
    if (now.id === before.id) return;
    void saveFor(before);
    typed.value = undefined;
  });
  onBeforeUnmount(() => void saveFor(subject()));

  return {
    text: computed({
      get: () => typed.value ?? stored(subject()),
      set: (text) => {
        typed.value = text;
      },
    }),
    leave: () => saveFor(subject()),
  };
}
