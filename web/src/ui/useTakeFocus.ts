import { nextTick, onMounted, type Ref, watch } from "vue";

/** Gives the focus to a heading that came, or whose part changed, when what had the focus is gone with it: the keyboard
 *  goes on from there. Where something has the focus it is left alone. */
export function useTakeFocus(heading: Ref<HTMLElement | null>, changes?: () => unknown): void {
  async function take(): Promise<void> {
    await nextTick();
    if (document.activeElement === document.body) heading.value?.focus({ preventScroll: true });
  }
  if (changes) watch(changes, take);
  else onMounted(take);
}
