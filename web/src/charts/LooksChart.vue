<script setup lang="ts">
import { computed } from "vue";
import { formatDay } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { useStyle } from "./useStyle";

/** A figure as it was known after each import, by the day its figures ended. */
const props = defineProps<{
  points: [string, number | null][];
  label: string;
  told: (value: unknown) => string;
  /** Whether less is better, and so stands higher. */
  down?: boolean;
}>();
const style = useStyle();

const option = computed(() => {
  const { t, small, tooltip, timeAxis, valueAxis } = style.value;
  return {
    animation: false,
    grid: { left: 56, right: 16, top: 12, bottom: 22 },
    xAxis: { ...timeAxis, splitNumber: 3, axisLabel: { ...small, hideOverlap: true } },
    yAxis: {
      ...valueAxis,
      scale: true,
      splitNumber: 4,
      inverse: props.down,
      axisLabel: { ...small, formatter: props.told },
    },
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: (found: { value: [string, number] }[]) => [
        formatDay(found[0]?.value[0] ?? ""),
        `${props.label}: ${props.told(found[0]?.value[1])}`,
      ],
    },
    series: [
      {
        type: "line",
        step: "end",
        data: props.points,
        symbolSize: 6,
        lineStyle: { color: t.q5, width: 1.4 },
        itemStyle: { color: t.q5 },
      },
    ],
  };
});
</script>

<template>
  <ChartFrame :option="option" :label="`${label} after each import`">
    <template #table><span /></template>
  </ChartFrame>
</template>
