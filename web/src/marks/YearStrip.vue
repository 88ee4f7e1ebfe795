<script setup lang="ts">
import { computed } from "vue";
import { cellsOf } from "./stripBins";

const props = defineProps<{
  /** Season profile, 52 or 12 factors; null when unknown. */
  profile: readonly number[] | null;
  /** Places in the year, 0 to 1. */
  asOf: number;
  arrival: number;
  label: string;
}>();

const cells = computed(() => cellsOf(props.profile ?? []));
const slots = computed(() => props.profile?.length ?? 52);
</script>

<template>
  <svg
    class="strip"
    :viewBox="`0 0 ${slots} 10`"
    preserveAspectRatio="none"
    role="img"
    :aria-label="label"
  >
    <rect v-if="!profile" x="0" y="4.5" :width="slots" height="1" class="none" />
    <rect
      v-for="cell in cells"
      :key="cell.at"
      :x="cell.at"
      y="1.6"
      :width="cell.width"
      height="6.8"
      :style="{ fill: `var(--q${cell.bin})` }"
    />
    <line :x1="arrival * slots" :x2="arrival * slots" y1="0" y2="10" class="arrival" />
    <line :x1="asOf * slots" :x2="asOf * slots" y1="0" y2="10" class="as-of" />
  </svg>
</template>

<style scoped>
.strip {
  display: block;
  width: 100%;
  height: 100%;
}

.none {
  fill: var(--rule);
}

line {
  vector-effect: non-scaling-stroke;
}

.as-of {
  stroke: var(--ink);
  stroke-width: 1.2;
}

.arrival {
  stroke: var(--ochre);
  stroke-width: 1.2;
  stroke-dasharray: 3 2;
}
</style>
