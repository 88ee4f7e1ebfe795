<script setup lang="ts">
import { useEventListener, useTimeoutFn } from "@vueuse/core";
import { useQueryClient } from "@tanstack/vue-query";
import { ref, shallowRef, useId } from "vue";
import { registryQueries } from "@/api/registry";
import { shownUnit } from "@/format/figure";

/**
 * What an element says of itself, shown by hover, by keyboard focus and by touch: one tooltip for all of them, since
 * hundreds would be made for a ledger otherwise. It stands in its `data-tip`, or in the glossary or the registry of
 * figures under its `data-word` or `data-figure`; see `v-explain`.
 */
const AFTER = 350; // Milliseconds of rest, so that crossing a table shows nothing.
const TOUCHED = 4000;

const id = `tip-${useId()}`;
const target = shallowRef<Element | null>(null);
const text = ref("");
const cache = useQueryClient();
const TIPPED = "[data-tip],[data-word],[data-figure]";
const tipped = (event: Event): HTMLElement | null =>
  event.target instanceof Element ? event.target.closest<HTMLElement>(TIPPED) : null;
/** Where the glossary has it in full; nothing for what it does not have. */
const anchor = ref("");

/** What an element says. */
async function said({ dataset }: HTMLElement): Promise<string> {
  if (dataset["tip"]) return dataset["tip"];
  if (dataset["word"]) {
    const words = await cache.fetchQuery(registryQueries.glossary());
    return words.find((one) => one.key === dataset["word"])?.short ?? "";
  }
  const figures = await cache.fetchQuery(registryQueries.figures());
  const figure = figures.find((one) => one.key === dataset["figure"]);
  if (!figure) return "";
  const unit = shownUnit(figure.unit, figure.label);
  return `${figure.label}${unit && `, ${unit}`}: ${figure.formula}.`;
}

let coming: HTMLElement | null = null;
const waiting = useTimeoutFn(() => void show(coming), AFTER, { immediate: false });
const going = useTimeoutFn(hide, AFTER, { immediate: false });
const leaving = useTimeoutFn(hide, TOUCHED, { immediate: false });

async function show(element: HTMLElement | null): Promise<void> {
  if (!element) return;
  coming = element;
  const says = await said(element).catch(() => "");
  // Another one may have come up while the words were on their way.
  if (!element.isConnected || !says || coming !== element) return;
  hide();
  const { word, figure } = element.dataset;
  anchor.value = word ?? figure ?? "";
  target.value = element;
  text.value = says;
  element.setAttribute("aria-describedby", id);
}

function hide(): void {
  waiting.stop();
  leaving.stop();
  going.stop();
  coming = null;
  if (target.value?.getAttribute("aria-describedby") === id)
    target.value.removeAttribute("aria-describedby");
  target.value = null;
}

const onTip = (event: Event): boolean =>
  event.target instanceof Element && event.target.closest(".v-tooltip") !== null;

useEventListener(document, "pointerover", (event) => {
  if (event.pointerType === "touch") return;
  // On the tip itself it stays, so that it can be read and marked.
  if (onTip(event)) {
    going.stop();
    return;
  }
  const found = tipped(event);
  if (found && found === target.value) {
    going.stop();
    return;
  }
  // A moment to get over to the tip, which has a link.
  if (target.value && !found) {
    going.start();
    return;
  }
  if (target.value) hide();
  waiting.stop();
  coming = found;
  if (found) waiting.start();
});
useEventListener(document, "focusin", (event) => {
  if (onTip(event)) return;
  const found = tipped(event);
  if (found && found.matches(":focus-visible")) void show(found);
  else hide();
});
useEventListener(document, "pointerup", (event) => {
  if (event.pointerType !== "touch") return;
  const found = tipped(event);
  if (found) {
    void show(found);
    leaving.start();
  } else hide();
});
useEventListener(document, "pointerdown", (event) => {
  if (event.pointerType !== "touch" && !onTip(event)) hide();
});
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
  >
    {{ text }}
    <RouterLink v-if="anchor" class="more" :to="{ path: '/glossary', hash: `#${anchor}` }"
      >Glossary</RouterLink
    >
  </v-tooltip>
</template>

<style scoped>
.more {
  margin-left: 6px;
  color: inherit;
}
</style>
