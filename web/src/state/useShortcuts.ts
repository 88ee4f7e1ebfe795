import { useEventListener } from "@vueuse/core";
import { onScopeDispose, shallowReactive } from "vue";

export interface Shortcut {
  /** Values of KeyboardEvent.key. */
  keys: string[];
  /** What the sheet says it does. */
  does: string;
  /** How the sheet writes the key, where its value does not read well. */
  label?: string;
  /** With Ctrl, or Cmd; such a key works while someone types, too. */
  chord?: boolean;
  run: (event: KeyboardEvent) => void;
}

const active = shallowReactive<Set<Shortcut[]>>(new Set());

/** Shortcuts that work now, for the sheet: those of the view first, then the application's. */
export const listShortcuts = (): Shortcut[] => [...active].reverse().flat();

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  target.closest(
    "input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable]",
  ) !== null;

/** Whether a key belongs to what has the focus, as Enter and Space do to a button. */
const pressing = (event: KeyboardEvent): boolean =>
  (event.key === "Enter" || event.key === " ") &&
  event.target instanceof HTMLElement &&
  event.target.closest("button, a, input, summary") !== null;

const inOverlay = (): boolean =>
  document.querySelector(".v-overlay--active[aria-modal='true'], .v-dialog.v-overlay--active") !==
  null;

/** Shortcuts while the caller lives; silent while a sheet is open, single keys while someone types. */
export function useShortcuts(shortcuts: Shortcut[]): void {
  const listen = (event: KeyboardEvent): void => {
    const chord = event.ctrlKey || event.metaKey;
    if (event.altKey || inOverlay()) return;
    if (!chord && (typing(event.target) || pressing(event))) return;
    const found = shortcuts.find(
      (one) => one.keys.includes(event.key) && Boolean(one.chord) === chord,
    );
    if (!found) return;
    event.preventDefault();
    found.run(event);
  };
  active.add(shortcuts);
  useEventListener(window, "keydown", listen);
  onScopeDispose(() => active.delete(shortcuts));
}
