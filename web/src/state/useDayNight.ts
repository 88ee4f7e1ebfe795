import { onScopeDispose, ref, watchEffect } from "vue";
import { useTheme } from "vuetify";

export type Light = "day" | "night";

const KEY = "driftfield.light";

export interface UseDayNightReturn {
  light: Readonly<ReturnType<typeof ref<Light>>>;
  toggle: () => void;
}

/** Day or night: what was chosen here before, else what the system asks for. */
export function useDayNight(): UseDayNightReturn {
  const theme = useTheme();
  const system = window.matchMedia("(prefers-color-scheme: dark)");
  const chosen = localStorage.getItem(KEY);
  const light = ref<Light>(
    chosen === "day" || chosen === "night" ? chosen : system.matches ? "night" : "day",
  );
  const follow = (event: MediaQueryListEvent): void => {
    if (!localStorage.getItem(KEY)) light.value = event.matches ? "night" : "day";
  };
  system.addEventListener("change", follow);
  onScopeDispose(() => system.removeEventListener("change", follow));
  watchEffect(() => {
    document.documentElement.dataset.theme = light.value;
    theme.change(light.value);
  });
  return {
    light,
    toggle: () => {
      light.value = light.value === "day" ? "night" : "day";
      localStorage.setItem(KEY, light.value);
    },
  };
}
