import { useLocalStorage } from "@vueuse/core";
import { ref, type Ref } from "vue";

const SEEN = "driftfield.introduced";
/** The step that is shown, from 0; null for none. */
const step = ref<number | null>(null);
/** Outlives the card, whose end is what is to be kept. */
const seen = useLocalStorage(SEEN, false);

export interface UseIntroductionReturn {
  step: Ref<number | null>;
  /** Shows it from the start, also to one who has seen it. */
  introduce: () => void;
  /** Shows it to one who has not seen it yet. */
  offer: () => void;
  end: () => void;
}

/** The introduction in three steps: shown once by itself, and whenever it is called. */
export function useIntroduction(): UseIntroductionReturn {
  return {
    step,
    introduce: () => (step.value = 0),
    offer: () => {
      if (!seen.value) step.value = 0;
    },
    end: () => {
      step.value = null;
      seen.value = true;
    },
  };
}
