<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { StepRow } from "@/api/terms";
import { describeStep, growthMark, tellGrowth } from "./steps";

/** Other words in the terms that are found, the larger the more they are searched. */
const props = defineProps<{ steps: StepRow[] }>();
defineEmits<{ add: [word: string] }>();

// So many fit beside the strip; the rest comes when asked for.
const FEW = 18;
const all = ref(false);
watch(
  () => props.steps,
  () => (all.value = false),
);
const shown = computed(() => (all.value ? props.steps : props.steps.slice(0, FEW)));

const SMALLEST = 12;
const LARGEST = 24;
const most = computed(() => Math.max(1, ...props.steps.map((one) => one.searches_52w ?? 0)));
/** The area of a word follows its searches. */
const size = (step: StepRow): string =>
  `${SMALLEST + (LARGEST - SMALLEST) * Math.sqrt((step.searches_52w ?? 0) / most.value)}px`;
</script>

<template>
  <ul class="words" aria-label="Words beside the seed">
    <li v-for="step in shown" :key="step.name">
      <button
        class="serif"
        :style="{ fontSize: size(step) }"
        :aria-label="describeStep(step)"
        :data-tip="describeStep(step)"
        @click="$emit('add', step.name)"
      >
        {{ step.name }}
      </button>
      <span v-if="tellGrowth(step)" class="small growth" aria-hidden="true"
        >{{ growthMark(step) }}{{ tellGrowth(step) }}</span
      >
    </li>
    <li v-if="steps.length > FEW">
      <v-btn :aria-expanded="all" @click="all = !all">{{
        all ? "fewer" : `${steps.length - FEW} more`
      }}</v-btn>
    </li>
  </ul>
</template>

<style scoped>
.words {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 12px;
  margin: 0;
  padding: 0 0 2px;
  list-style: none;
}

li {
  max-width: 100%;
}

.growth {
  margin-left: 3px;
}

button {
  max-width: 100%;
  padding: 0 1px;
  border: 0;
  background: none;
  color: var(--q5);
  cursor: pointer;
  line-height: 1.25;
  overflow-wrap: anywhere;
  text-align: left;
}

button:hover,
button:focus-visible {
  background: var(--ochre-wash);
}
</style>
