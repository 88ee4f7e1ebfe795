import { useLocalStorage, usePreferredDark } from "@vueuse/core";
import { computed, type ComputedRef, watchEffect } from "vue";
import { useTheme } from "vuetify";

export type Light = "day" | "night";

export interface UseDayNightReturn {
  light: ComputedRef<Light>;
  toggle: () => void;
}

/** Day or night: what was chosen here before, else what the system asks for. */
export function useDayNight(): UseDayNightReturn {
  const theme = useTheme();
  const dark = usePreferredDark();
  const chosen = useLocalStorage("driftfield.light", "");
  const light = computed<Light>(() => {
    if (chosen.value === "day" || chosen.value === "night") return chosen.value;
    return dark.value ? "night" : "day";
  });
  watchEffect(() => {
    document.documentElement.dataset["theme"] = light.value;
    theme.change(light.value);
  });
  return { light, toggle: () => (chosen.value = light.value === "day" ? "night" : "day") };
}
