import { ref, type Ref } from "vue";

const said = ref("");

/** One line at the foot of the window that says what was just done; the application shows it. */
export function useNotice(): { said: Ref<string>; say: (text: string) => void } {
  return { said, say: (text) => (said.value = text) };
}
