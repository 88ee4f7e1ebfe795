<script setup lang="ts">
import { useEventListener, useTimeoutFn } from "@vueuse/core";
import { ref, shallowRef, useId } from "vue";

/**
 * What an element's `data-tip` says, shown by hover, by keyboard focus and by touch: one tooltip for all of them, since
 * hundreds would be made for a ledger otherwise.
 */
const AFTER = 350; // Milliseconds of rest, so that crossing a table shows nothing.
const TOUCHED = 4000;

const id = `tip-${useId()}`;
const target = shallowRef<Element | null>(null);
const text = ref("");
const tipped = (event: Event): Element | null =>
  event.target instanceof Element ? event.target.closest("[data-tip]") : null;

let coming: Element | null = null;
const waiting = useTimeoutFn(() => show(coming), AFTER, { immediate: false });
const leaving = useTimeoutFn(hide, TOUCHED, { immediate: false });

function show(element: Element | null): void {
  const says = element?.getAttribute("data-tip");
  if (!element?.isConnected || !says) return;
  hide();
  target.value = element;
  text.value = says;
  element.setAttribute("aria-describedby", id);
}

function hide(): void {
  waiting.stop();
  leaving.stop();
  coming = null;
  if (target.value?.getAttribute("aria-describedby") === id)
    target.value.removeAttribute("aria-describedby");
  target.value = null;
}

useEventListener(document, "pointerover", (event) => {
  if (event.pointerType === "touch") return;
  // On the tip itself it stays, so that it can be read and marked.
  if (event.target instanceof Element && event.target.closest(".v-tooltip")) return;
  const found = tipped(event);
  if (found && found === target.value) return;
  if (target.value) hide();
  waiting.stop();
  coming = found;
  if (found) waiting.start();
});
useEventListener(document, "focusin", (event) => {
  const found = tipped(event);
  if (found && found.matches(":focus-visible")) show(found);
  else hide();
});
useEventListener(document, "pointerup", (event) => {
  if (event.pointerType !== "touch") return;
  const found = tipped(event);
  if (found) {
    show(found);
    leaving.start();
  } else hide();
});
useEventListener(document, "pointerdown", (event) => event.pointerType !== "touch" && hide());
useEventListener(document, "scroll", hide, { capture: true, passive: true });
useEventListener(document, "keydown", (event) => event.key === "Escape" && hide());
</script>

<template>
  <v-tooltip
    v-if="text"
    :id="id"
    :model-value="target !== null"
    :target="target ?? undefined"
    :open-on-hover="false"
    interactive
    :eager="false"
    location="bottom"
    :text="text"
  />
</template>
