import { readonly, ref, type Ref } from "vue";

const notice = ref("");
/** How many there have been: a notice of the same words, too, is a new one and stands its full time. */
const count = ref(0);

/** One line at the foot of the window that says what was just done; the application shows it. */
export function useNotice(): {
  notice: Ref<string>;
  count: Readonly<Ref<number>>;
  notify: (text: string) => void;
} {
  return {
    notice,
    count: readonly(count),
    notify: (text) => {
      notice.value = text;
      count.value += 1;
    },
  };
}
