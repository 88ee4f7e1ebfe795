import { useTitle } from "@vueuse/core";
import { computed, type MaybeRefOrGetter, toValue } from "vue";

const NAME = "Driftfield";

/** What the tab is called: what is looked at, then the program; the program alone while that is not known. */
export function useTabTitle(what: MaybeRefOrGetter<string | undefined>): void {
  useTitle(
    computed(() => {
      const named = toValue(what);
      return named ? `${named} · ${NAME}` : NAME;
    }),
  );
}
