<script setup lang="ts">
import { computed } from "vue";
import type { FigureRow } from "@/api/client";
import type { FigureRange } from "@/api/catalogue";
import { formatFigure } from "@/format/figure";
import { useDraggedRange } from "@/screens/parts/sieve/useDraggedRange";

/** A figure over the niches of a category: its histogram with quartiles; what is dragged over it is a range. */
const props = defineProps<{ range: FigureRange; figure: FigureRow }>();
const emit = defineEmits<{ range: [low: number | null, high: number | null] }>();

const WIDTH = 200;
const HEIGHT = 30;
const { held, begin, move, end } = useDraggedRange(
  () => props.range,
  (low, high) => emit("range", low, high),
);
const bars = computed(() => {
  const most = Math.max(1, ...props.range.counts);
  const step = WIDTH / Math.max(1, props.range.counts.length);
  return props.range.counts.map((count, i) => {
    const height = count ? Math.max(2, (count / most) * HEIGHT) : 0;
    return { x: i * step, y: HEIGHT - height, width: Math.max(1, step - 1), height, held: held(i) };
  });
});
/** Where a value lies across the bars, whose widths differ. */
function across(value: number | null): number | null {
  const { edges, counts } = props.range;
  if (value === null || !counts.length) return null;
  const bin = Math.min(
    counts.length - 1,
    Math.max(0, edges.filter((edge) => edge <= value).length - 1),
  );
  const [low, high] = [edges[bin] ?? 0, edges[bin + 1] ?? 0];
  return ((bin + (high > low ? (value - low) / (high - low) : 0)) / counts.length) * WIDTH;
}
const box = computed(() => ({
  low: across(props.range.quarter) ?? 0,
  middle: across(props.range.median) ?? 0,
  high: across(props.range.three_quarters) ?? 0,
}));
const told = (value: number | null): string => formatFigure(props.figure, value);
const label = computed(
  () =>
    `${props.figure.label}: from ${told(props.range.low)} to ${told(props.range.high)}, half of the niches between ${told(props.range.quarter)} and ${told(props.range.three_quarters)}`,
);
</script>

<template>
  <tr>
    <th v-explain:figure="figure.key" scope="row">{{ figure.label }}</th>
    <td v-if="range.known">
      <svg
        :viewBox="`0 0 ${WIDTH} ${HEIGHT + 6}`"
        :width="WIDTH"
        :height="HEIGHT + 6"
        role="img"
        :aria-label="label"
        @pointerdown="begin"
        @pointermove="move"
        @pointerup="end"
      >
        <rect :width="WIDTH" :height="HEIGHT + 6" class="ground" />
        <rect
          v-for="bar in bars"
          :key="bar.x"
          :x="bar.x"
          :y="bar.y"
          :width="bar.width"
          :height="bar.height"
          :class="{ held: bar.held === true }"
        />
        <path :d="`M0 ${HEIGHT + 3}H${WIDTH}`" class="whole" />
        <path :d="`M${box.low} ${HEIGHT + 3}H${box.high}`" class="half" />
        <path :d="`M${box.middle} ${HEIGHT}v6`" class="middle" />
      </svg>
    </td>
    <td v-else class="small">not known of any niche</td>
    <td class="number small">
      <template v-if="range.known">
        <template v-if="range.low === range.high">{{ told(range.low) }} in all</template>
        <template v-else
          >{{ told(range.low) }} – {{ told(range.high) }}<br />middle
          {{ told(range.median) }}</template
        >
      </template>
    </td>
    <td class="acts">
      <v-btn
        v-if="range.known > 1 && range.median !== range.low"
        :data-tip="`The niches from the middle on, ${told(range.median)}, on the Field`"
        @click="$emit('range', range.median, null)"
        >upper half</v-btn
      >
      <v-btn
        v-if="range.known > 1 && range.median !== range.high"
        :data-tip="`The niches up to the middle, ${told(range.median)}, on the Field`"
        @click="$emit('range', null, range.median)"
        >lower half</v-btn
      >
    </td>
  </tr>
</template>

<style scoped>
svg {
  display: block;
  cursor: ew-resize;
  touch-action: none;
}

.ground {
  fill: transparent;
}

rect {
  fill: var(--q2);
}

rect.held {
  fill: var(--q4);
}

.whole {
  stroke: var(--ink3);
}

.half {
  stroke: var(--q4);
  stroke-width: 4;
}

.middle {
  stroke: var(--ink);
  stroke-width: 2;
}

th,
td {
  padding: 3px 10px 3px 0;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
  text-align: left;
  vertical-align: middle;
}

.number {
  text-align: right;
  white-space: nowrap;
}

.acts {
  white-space: nowrap;
}

.acts > * + * {
  margin-left: 10px;
}
</style>
