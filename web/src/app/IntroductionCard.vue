<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useIntroduction } from "@/state/useIntroduction";

/** Three steps through the Field, each beside what it is about; nothing is in the way meanwhile. */
const STEPS = [
  {
    head: "Narrow the field",
    text:
      "Every row is a niche. Type a condition here as you would say it, such as “price 15 to 40” or “not seasonal”; " +
      "/ brings you here. What passes stays.",
    at: ".sieve",
  },
  {
    head: "Read a row",
    text:
      "The strip is the year: the darker, the more is searched. Drift is what is left without the season, with its " +
      "interval. Next season says by when to order. Rest on any heading or mark to have it explained.",
    at: "[role=grid]",
  },
  {
    head: "Decide, and act in time",
    text:
      "k keeps, p parks, x passes and u undoes. Enter opens the dossier with the money and the evidence. Dates follow " +
      "the planning date and the lead time in the bar; set both before you believe them.",
    at: ".planned",
  },
];
const route = useRoute();
const router = useRouter();
const { step, end } = useIntroduction();
const shown = computed(() => (step.value === null ? undefined : STEPS[step.value]));
const heading = ref<HTMLElement | null>(null);
let marked: Element | null = null;

function mark(selector: string | undefined): void {
  marked?.classList.remove("introduced");
  marked = selector ? document.querySelector(selector) : null;
  marked?.classList.add("introduced");
}

watch(
  shown,
  async (now) => {
    if (now && route.path !== "/field") await router.push({ path: "/field", query: route.query });
    await nextTick();
    mark(now?.at);
  },
  { immediate: true },
);
onBeforeUnmount(() => mark(undefined));

function go(by: number): void {
  const next = (step.value ?? 0) + by;
  if (next >= STEPS.length) end();
  else step.value = Math.max(0, next);
  void nextTick(() => heading.value?.focus());
}
</script>

<template>
  <section v-if="shown && step !== null" class="card" aria-label="Introduction" @keydown.esc="end">
    <p class="small">{{ step + 1 }} of {{ STEPS.length }}</p>
    <h2 ref="heading" tabindex="-1" class="serif">{{ shown.head }}</h2>
    <p>{{ shown.text }}</p>
    <p class="acts">
      <v-btn variant="flat" @click="go(1)">{{ step + 1 < STEPS.length ? "Next" : "Done" }}</v-btn>
      <v-btn v-if="step > 0" @click="go(-1)">Back</v-btn>
      <v-btn v-if="step + 1 < STEPS.length" @click="end">Skip</v-btn>
    </p>
  </section>
</template>

<style scoped>
.card {
  position: fixed;
  right: 24px;
  bottom: 24px;
  z-index: 20;
  width: min(360px, calc(100vw - 48px));
  padding: 12px 16px;
  box-sizing: border-box;
  background: var(--page);
  border: 1px solid var(--ink3);
  border-top: 3px solid var(--ochre);
}

h2 {
  margin: 0 0 4px;
  font-size: 18px;
  outline: none;
}

p {
  margin: 0 0 6px;
}

.acts {
  display: flex;
  gap: 14px;
  margin: 8px 0 0;
}
</style>

<style>
.introduced {
  outline: 2px solid var(--ochre);
  outline-offset: -2px;
}

@media print {
  .introduced {
    outline: none;
  }
}
</style>
