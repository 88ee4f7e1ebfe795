import { readonly, ref, type Ref } from "vue";

const notice = ref("");
/** Whether it stands until it is closed, or another one comes. */
const stays = ref(false);
/** How many there have been: a notice of the same words, too, is a new one and stands its full time. */
const count = ref(0);

/** One line at the foot of the window that says what was just done; the application shows it. */
export function useNotice(): {
  notice: Ref<string>;
  stays: Readonly<Ref<boolean>>;
  count: Readonly<Ref<number>>;
  /** ``lasting``: what was lost is not to be missed by looking away. */
  notify: (text: string, lasting?: boolean) => void;
} {
  return {
    notice,
    stays: readonly(stays),
    count: readonly(count),
    notify: (text, lasting = false) => {
      notice.value = text;
      stays.value = lasting;
      count.value += 1;
    },
  };
}
