<script setup lang="ts">
import { computed } from "vue";
import { formatChange } from "@/format/values";

const props = defineProps<{ season: number | null; drift: number | null }>();

/** Half the drawing is a fivefold change; on a log scale a doubling and a halving are as long. */
const HALF = 48;
const LONGEST = Math.log(5);

function bar(change: number | null) {
  if (change === null) return null;
  const log = Math.log(Math.max(1 + change, 1e-6));
  const length = (Math.min(Math.abs(log), LONGEST) / LONGEST) * (HALF - 2);
  return {
    x: log < 0 ? HALF - length : HALF,
    length,
    falls: log < 0,
    cut: Math.abs(log) > LONGEST,
  };
}

const season = computed(() => bar(props.season));
const drift = computed(() => bar(props.drift));
const label = computed(() =>
  props.drift === null
    ? "split unknown"
    : `season ${formatChange(props.season)}, drift ${formatChange(props.drift)}`,
);
</script>

<template>
  <svg class="bars" viewBox="0 0 96 22" role="img" :aria-label="label">
    <title>{{ label }}</title>
    <rect v-if="season" :x="season.x" y="4" :width="season.length" height="6" class="season" />
    <path v-if="season?.cut" :d="season.falls ? 'M4 3v8' : 'M92 3v8'" class="cut" />
    <rect
      v-if="drift"
      :x="drift.x"
      y="11.5"
      :width="Math.max(drift.length, 0.8)"
      height="6"
      :class="drift.falls ? 'falls' : 'rises'"
    />
    <path d="M48 2V20" class="axis" />
    <text v-if="!drift" x="52" y="14">no split</text>
  </svg>
</template>

<style scoped>
.bars {
  width: 96px;
  height: 22px;
}

.season {
  fill: var(--season);
}

.rises {
  fill: var(--q5);
}

.falls {
  fill: var(--rust);
}

.axis {
  stroke: var(--ink3);
}

.cut {
  stroke: var(--paper);
  stroke-width: 1.5;
}

text {
  font: 10px var(--condensed);
  fill: var(--ink3);
}
</style>
