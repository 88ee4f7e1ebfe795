<script setup lang="ts">
import { computed } from "vue";
import type { StepRow } from "@/api/terms";
import { describeStep, growthMark } from "./steps";

/** What buyers type next, by its letter: the higher, the more searches. */
const props = defineProps<{
  steps: StepRow[];
  /** Letters chosen so far; the strip shows those that come after them. */
  prefix: string;
  label: string;
}>();
defineEmits<{ choose: [letters: string] }>();

const ALPHABET = "abcdefghijklmnopqrstuvwxyz";
const most = computed(() => Math.max(1, ...props.steps.map((one) => one.searches_52w ?? 0)));
/** Every letter at its place, so that strips of two seeds compare; deeper down only those there are. */
const cells = computed(() => {
  const found = new Map(props.steps.map((one) => [one.name, one]));
  const others = props.steps.filter((one) => props.prefix || !ALPHABET.includes(one.name));
  const letters = props.prefix
    ? []
    : [...ALPHABET].map((name) => ({ name, step: found.get(name) }));
  return [...letters, ...others.map((step) => ({ name: step.name, step }))];
});
const height = (step: StepRow | undefined): string =>
  `${Math.max(step ? 2 : 0, ((step?.searches_52w ?? 0) / most.value) * 46)}px`;
</script>

<template>
  <ul class="strip" :aria-label="label">
    <li v-for="{ name, step } in cells" :key="name">
      <button
        :disabled="!step"
        :aria-label="step ? describeStep(step) : `${name}: nothing`"
        :data-tip="step ? describeStep(step) : undefined"
        @click="$emit('choose', name)"
      >
        <span class="mark small" aria-hidden="true">{{ growthMark(step) }}</span>
        <span class="bar" :style="{ height: height(step) }" />
        <span class="name serif">{{ name }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  flex: 1 1 20px;
  max-width: 44px;
  min-width: 20px;
}

button {
  display: flex;
  flex-direction: column;
  justify-content: flex-end;
  align-items: stretch;
  width: 100%;
  min-height: 84px;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}

button:disabled {
  color: var(--ink3);
  cursor: default;
}

button:hover:not(:disabled),
button:focus-visible {
  background: var(--ochre-wash);
}

.mark {
  line-height: 1;
}

.bar {
  background: var(--q4);
}

.name {
  padding: 2px 0;
  font-size: 15px;
  line-height: 1.3;
}
</style>
