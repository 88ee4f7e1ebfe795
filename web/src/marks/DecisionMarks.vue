<script setup lang="ts">
import type { Choice } from "@/api/client";

defineProps<{ decision: Choice | null; name: string }>();
defineEmits<{ decide: [choice: Choice] }>();

const CHOICES: { choice: Choice; word: string }[] = [
  { choice: "keep", word: "Keep" },
  { choice: "park", word: "Park" },
  { choice: "pass", word: "Pass" },
];
</script>

<template>
  <span class="marks">
    <button
      v-for="{ choice, word } in CHOICES"
      :key="choice"
      tabindex="-1"
      :class="['mark', choice, { on: decision === choice }]"
      :aria-pressed="decision === choice"
      :aria-label="`${word} ${name}`"
      :data-tip="word"
      @click.stop="$emit('decide', decision === choice ? 'open' : choice)"
    >
      <svg viewBox="0 0 12 12" aria-hidden="true">
        <circle v-if="choice === 'keep'" cx="6" cy="6" r="3.6" class="full" />
        <template v-else-if="choice === 'park'">
          <circle cx="6" cy="6" r="3.4" class="ring" />
          <path d="M6 2.6a3.4 3.4 0 0 0 0 6.8z" class="full" />
        </template>
        <circle v-else cx="6" cy="6" r="3.2" class="ring" />
      </svg>
    </button>
  </span>
</template>

<style scoped>
.marks {
  display: flex;
}

.mark {
  width: 15px;
  height: 24px;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--season);
  display: grid;
  place-items: center;
}

.mark svg {
  width: 12px;
  height: 12px;
}

.mark:hover {
  color: var(--ink);
}

.on.keep {
  color: var(--q5);
}

.on.park {
  color: var(--ochre);
}

.on.pass {
  color: var(--ink);
}

.full {
  fill: currentColor;
}

.ring {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.3;
}
</style>
