<script setup lang="ts">
/** A share as a bar with its interval, and what is usual as a tick; the number is printed next to it. */
const props = defineProps<{
  share: number | null;
  low: number | null;
  high: number | null;
  usual?: number | null;
  /** The share that fills the width. */
  most: number;
}>();
const at = (share: number | null): number => ((share ?? 0) / props.most) * 100;
</script>

<template>
  <svg viewBox="0 0 100 12" preserveAspectRatio="none" aria-hidden="true">
    <rect y="3" height="6" :width="at(share)" />
    <path :d="`M${at(low)} 6H${at(high)}`" />
    <line v-if="usual != null" :x1="at(usual)" :x2="at(usual)" y1="0" y2="12" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 13px;
}

rect {
  fill: var(--q3);
}

path {
  stroke: var(--q6);
  stroke-width: 1.2;
  vector-effect: non-scaling-stroke;
}

line {
  stroke: var(--ochre);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
</style>
