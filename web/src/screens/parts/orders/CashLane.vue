<script setup lang="ts">
import { computed } from "vue";
import type { Orders } from "@/api/orders";
import { formatRound } from "@/format/money";
import { formatDay } from "@/format/values";
import { type Axis, percent } from "@/screens/parts/calendarAxis";

/** The cash of several orders across months: the middle of the draws, and the band of eight in ten. */
const props = defineProps<{ orders: Orders; axis: Axis }>();

const weeks = computed(() =>
  props.orders.cash.weeks
    .map((one) => ({ ...one, at: props.axis.at(one.week) }))
    .filter((one) => one.at >= 0 && one.at <= 1),
);
/** From the lowest to the highest that is shown, 0 among them. */
const reach = computed(() => {
  const low = Math.min(0, ...weeks.value.map((one) => one.low));
  const high = Math.max(0, ...weeks.value.map((one) => one.high));
  return { low, high: high > low ? high : low + 1 };
});
const y = (value: number): number =>
  (reach.value.high - value) / (reach.value.high - reach.value.low);
const line = (key: "low" | "middle" | "high", backwards = false): string => {
  const points = weeks.value.map((one) => `${one.at.toFixed(4)} ${y(one[key]).toFixed(4)}`);
  return (backwards ? points.reverse() : points).join("L");
};
const lowest = computed(() =>
  weeks.value.find((one) => one.week === props.orders.cash.lowest_week),
);
</script>

<template>
  <div class="lane">
    <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
      <path v-if="weeks.length" class="band" :d="`M${line('low')}L${line('high', true)}Z`" />
      <path v-if="weeks.length" class="middle" :d="`M${line('middle')}`" />
      <path class="zero" :d="`M0 ${y(0)}L1 ${y(0)}`" />
    </svg>
    <span class="small top">{{ formatRound(reach.high) }}</span>
    <span class="small zero" :style="{ top: percent(y(0)) }">{{ formatRound(0) }}</span>
    <i
      v-if="lowest"
      class="lowest"
      :style="{ left: percent(lowest.at), top: percent(y(lowest.low)) }"
      :data-tip="`week of ${formatDay(lowest.week)}: one in ten ${formatRound(lowest.low)} or less`"
    />
  </div>
</template>

<style scoped>
.lane {
  position: relative;
  height: 100%;
}

svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: visible;
}

path {
  fill: none;
  vector-effect: non-scaling-stroke;
}

.band {
  fill: var(--q1);
}

.middle {
  stroke: var(--q6);
  stroke-width: 1.5;
}

path.zero {
  stroke: var(--ink3);
}

/* They stand before the first month. */
span {
  position: absolute;
  right: 100%;
  margin-right: 5px;
  line-height: 13px;
  white-space: nowrap;
}

span.top {
  top: 0;
}

span.zero {
  transform: translateY(-50%);
}

.lowest {
  position: absolute;
  width: 8px;
  height: 8px;
  margin: -4px;
  border-radius: 50%;
  background: var(--ochre);
}

@media (max-width: 600px) {
  span {
    display: none;
  }
}

@media print {
  .lane {
    print-color-adjust: exact;
  }
}
</style>
