import { ref, type Ref } from "vue";

const notice = ref("");

/** One line at the foot of the window that says what was just done; the application shows it. */
export function useNotice(): { notice: Ref<string>; notify: (text: string) => void } {
  return { notice, notify: (text) => (notice.value = text) };
}
