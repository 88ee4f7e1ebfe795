<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatShare } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { formatPercent, useStyle } from "./useStyle";
import { strong } from "./tip";

type Theme = Schemas["ThemeOverTime"];

/** Shares of the most frequent themes by quarter. */
const props = defineProps<{ head: string; quarters: string[]; themes: Theme[] }>();
const style = useStyle();
const SHOWN = 4;

const rows = computed(() => props.themes.slice(0, SHOWN));
const names = computed(() =>
  props.quarters.map((day) => `${day.slice(0, 4)} Q${(Number(day.slice(5, 7)) + 2) / 3}`),
);

const option = computed(() => {
  const { t, small, tooltip, valueAxis } = style.value;
  const lines = [
    { color: t.q6, width: 1.8 },
    { color: t.ochre, width: 1.5 },
    { color: t.q4, width: 1.5, type: [6, 3] },
    { color: t.ink3, width: 1.4, type: [2, 2] },
  ];
  return {
    animation: false,
    grid: { left: 44, right: 118, top: 14, bottom: 22 },
    xAxis: {
      type: "category",
      data: names.value,
      boundaryGap: false,
      axisLine: { lineStyle: { color: t.rule } },
      axisTick: { show: false },
      axisLabel: small,
    },
    yAxis: { ...valueAxis, min: 0, axisLabel: { ...small, formatter: formatPercent } },
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: (points: { dataIndex: number }[]) => {
        const at = points[0]?.dataIndex ?? 0;
        const parts = rows.value.map((one) => [`${one.theme} `, strong(formatShare(one.share[at])), `, ${one.mentions[at] ?? 0} mentions`]);
        return [names.value[at] ?? "", ...parts];
      },
    },
    series: rows.value.map((one, i) => ({
      type: "line",
      name: one.theme,
      data: one.share,
      symbolSize: 4,
      lineStyle: lines[i],
      itemStyle: { color: lines[i]?.color },
      endLabel: { show: true, ...small, color: t.ink2, formatter: "{a}", distance: 4 },
      labelLayout: { moveOverlap: "shiftY" },
    })),
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" :label="`${head} by quarter`">
    <template #caption>{{ head }} by quarter, share of the quarter’s mentions</template>
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">quarter</th>
            <th v-for="one in themes" :key="one.theme" scope="col">{{ one.theme }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(name, i) in names" :key="name">
            <th scope="row">{{ name }}</th>
            <td v-for="one in themes" :key="one.theme">
              {{ formatShare(one.share[i]) }}, {{ one.mentions[i] }} mentions
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
