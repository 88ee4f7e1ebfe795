<script setup lang="ts">
import { defineAsyncComponent } from "vue";
import type { NichePreview } from "@/api/client";
import SignalMark from "@/marks/SignalMark.vue";

defineProps<{ niche: NichePreview | undefined; error: string | undefined }>();
defineEmits<{ working: [] }>();

const CurveChart = defineAsyncComponent(() => import("@/charts/CurveChart.vue"));
const YearsChart = defineAsyncComponent(() => import("@/charts/YearsChart.vue"));

/** Figures inside a sentence stand out, as the eye looks for them. */
const parts = (sentence: string): { text: string; strong: boolean }[] =>
  sentence
    .split(
      /([+−±×÷]?\d[\d.,]*%?(?: (?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)\w*(?: \d{4})?)?)/,
    )
    .map((text, i) => ({ text, strong: i % 2 === 1 }));

/** The verdict as one paragraph, and the date to act by as another. */
function paragraphs(niche: NichePreview): { text: string; dated: boolean }[] {
  const last = niche.figures.shape_family === "seasonal" && niche.call ? 1 : 0;
  const end = niche.verdict.length - last;
  return [
    { text: niche.verdict.slice(0, end).join(" "), dated: false },
    ...niche.verdict.slice(end).map((text) => ({ text, dated: true })),
  ];
}
</script>

<template>
  <section class="foot" aria-label="Selected niche">
    <p v-if="error" class="error">{{ error }}</p>
    <template v-else-if="niche">
      <div class="words" aria-live="polite">
        <h2 class="serif">
          {{ niche.name }}
          <button class="word-button small" @click="$emit('working')">Show the working</button>
        </h2>
        <p v-if="niche.signals.length" class="signals">
          <template v-for="signal in niche.signals" :key="signal.key">
            <span><SignalMark :tone="signal.tone" />{{ signal.name }}</span>
            {{ " " }}
          </template>
        </p>
        <p v-for="{ text, dated } in paragraphs(niche)" :key="text" :class="{ dated }">
          <template v-for="(part, j) in parts(text)" :key="j"
            ><b v-if="part.strong">{{ part.text }}</b
            ><template v-else>{{ part.text }}</template></template
          >
        </p>
      </div>
      <CurveChart v-if="niche.values.length" class="curve" :niche="niche" />
      <YearsChart v-if="niche.years.length > 1" class="years" :niche="niche" />
    </template>
    <p v-else class="small">Select a niche to see its curve and verdict.</p>
  </section>
</template>

<style scoped>
.foot {
  display: grid;
  grid-template-columns: 306px minmax(0, 1fr) minmax(0, 290px);
  gap: 22px;
  height: 202px;
  box-sizing: border-box;
  padding: 10px var(--gutter) 8px;
  background: var(--page);
  border-top: 1px solid var(--ink);
}

.words {
  overflow-y: auto;
  scrollbar-width: thin;
  font: 13.5px/1.34 var(--serif);
  color: var(--ink2);
}

h2 {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 10px;
  font-size: 17px;
  line-height: 1.15;
  margin: 0 0 4px;
  color: var(--ink);
}

h2 .word-button {
  flex: none;
  font-weight: 400;
}

p {
  margin: 0 0 2px;
}

b {
  color: var(--ink);
  font-weight: 600;
}

.dated,
.dated b {
  color: var(--ochre-text);
}

.signals {
  margin-bottom: 5px;
  font: 11.5px/1.4 var(--condensed);
}

.signals span {
  margin-right: 8px;
  white-space: nowrap;
}

.error {
  color: var(--rust);
  grid-column: 1 / -1;
}

@media (max-width: 980px) {
  .foot {
    grid-template-columns: 240px minmax(0, 1fr);
  }

  .foot .years {
    display: none;
  }
}

@media (max-width: 620px) {
  .foot {
    grid-template-columns: minmax(0, 1fr);
  }

  .foot .curve {
    display: none;
  }
}
</style>
