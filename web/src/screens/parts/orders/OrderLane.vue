<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatCount, formatDay } from "@/format/values";
import { type Axis, percent, within } from "@/screens/parts/calendarAxis";

/** An order across months: the day it is placed, its way, and the time in which it is sold. */
const props = defineProps<{
  summary: Schemas["PlanSummary"];
  axis: Axis;
  /** Whether it is among those that are added up. */
  taken: boolean;
}>();

const marks = computed(() => {
  const { ordered, on_sale, until } = props.summary;
  const [by, comes, ends] = [ordered, on_sale, until].map(props.axis.at) as [
    number,
    number,
    number,
  ];
  const span = (from: number, to: number) => {
    const [low, high] = [within(from), within(to)];
    return high > low ? { left: percent(low), width: percent(high - low) } : undefined;
  };
  return {
    by: by >= 0 && by <= 1 ? { left: percent(by) } : undefined,
    way: span(by, comes),
    sold: span(comes, ends),
  };
});
const tip = computed(
  () =>
    `${formatCount(props.summary.units)} units ordered ${formatDay(props.summary.ordered)}, on sale ${formatDay(props.summary.on_sale)}, sold for until ${formatDay(props.summary.until)}`,
);
</script>

<template>
  <div class="lane" :class="{ taken }" :data-tip="tip">
    <i v-if="marks.way" class="way" :style="marks.way" />
    <i v-if="marks.sold" class="sold" :style="marks.sold" />
    <i v-if="marks.by" class="by" :style="marks.by" />
  </div>
</template>

<style scoped>
.lane {
  position: relative;
  height: 18px;
}

i {
  position: absolute;
}

.way {
  top: 8px;
  border-top: 1px dashed var(--ochre);
}

.sold {
  top: 4px;
  bottom: 4px;
  border: 1px solid var(--q5);
}

.by {
  top: 1px;
  width: 3px;
  height: 16px;
  margin-left: -1px;
  background: var(--ochre);
}

/* What is left out stands hollow. */
.taken .sold {
  background: var(--q4);
}

@media print {
  .lane {
    print-color-adjust: exact;
  }
}
</style>
