<script setup lang="ts">
import { computed } from "vue";

const props = defineProps<{ competition: number | null; demand: number | null }>();

const label = computed(() => {
  const format = (value: number | null): string => (value === null ? "unknown" : value.toFixed(0));
  return `competition ${format(props.competition)}, demand ${format(props.demand)} of 100`;
});
</script>

<template>
  <svg class="balance" viewBox="0 0 130 16" role="img" :aria-label="label">
    <title>{{ label }}</title>
    <rect
      v-if="competition !== null"
      :x="62 - competition * 0.58"
      y="4"
      :width="competition * 0.58"
      height="7"
      class="competition"
    />
    <text v-else x="57" y="11.5" text-anchor="end">unknown</text>
    <rect v-if="demand !== null" x="62" y="4" :width="demand * 0.62" height="7" class="demand" />
    <path d="M62 1V15" class="axis" />
  </svg>
</template>

<style scoped>
.balance {
  width: 104px;
  height: 16px;
}

.competition {
  fill: none;
  stroke: var(--ink2);
}

.demand {
  fill: var(--q4);
}

.axis {
  stroke: var(--ink);
}

text {
  font: 10px var(--condensed);
  fill: var(--ink3);
}
</style>
