<script setup lang="ts">
import { computed } from "vue";
import type { NichePreview } from "@/api/client";

const props = defineProps<{ niche: NichePreview }>();

/** Figures inside a sentence stand out, as the eye looks for them. */
const parts = (sentence: string): { text: string; strong: boolean }[] =>
  sentence
    .split(
      /([+−±×÷]?\d[\d.,]*%?(?: (?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)\w*(?: \d{4})?)?)/,
    )
    .map((text, i) => ({ text, strong: i % 2 === 1 }));

/** The verdict as one paragraph, and the date to act by as another. */
const paragraphs = computed(() => {
  const { figures, call, verdict } = props.niche;
  const end = verdict.length - (figures.shape_family === "seasonal" && call ? 1 : 0);
  return [
    { text: verdict.slice(0, end).join(" "), dated: false },
    ...verdict.slice(end).map((text) => ({ text, dated: true })),
  ];
});
</script>

<template>
  <p v-for="{ text, dated } in paragraphs" :key="text" class="verdict" :class="{ dated }">
    <template v-for="(part, j) in parts(text)" :key="j"
      ><b v-if="part.strong">{{ part.text }}</b
      ><template v-else>{{ part.text }}</template></template
    >
  </p>
</template>

<style scoped>
.verdict {
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
</style>
