<script setup lang="ts">
import { computed } from "vue";
import { formatShare } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import { strong } from "./tip";
import { useStyle } from "./useStyle";

/** How few listings make how much of the revenue, most first; the straight line is an even spread. */
const props = defineProps<{ listings: number[]; revenue: number[] }>();
const style = useStyle();

const points = computed(() => props.listings.map((at, i) => [at, props.revenue[i] ?? 0]));
const option = computed(() => {
  const { t, small, tooltip } = style.value;
  const axis = {
    type: "value",
    min: 0,
    max: 1,
    interval: 0.5,
    axisLine: { show: true, lineStyle: { color: t.rule } },
    axisTick: { show: false },
    splitLine: { show: false },
    axisLabel: { ...small, formatter: (value: number) => `${value * 100}%` },
  };
  return {
    animation: false,
    grid: { left: 34, right: 12, top: 8, bottom: 20 },
    xAxis: axis,
    yAxis: axis,
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: ([first]: { data: number[] }[]) => [
        [strong(formatShare(first?.data[0])), " of the listings make ", strong(formatShare(first?.data[1])), " of the revenue"],
      ],
    },
    series: [
      { type: "line", data: points.value, showSymbol: false, lineStyle: { color: t.q6, width: 2 }, itemStyle: { color: t.q6 } },
      { type: "line", data: [[0, 0], [1, 1]], showSymbol: false, silent: true, lineStyle: { color: t.ink3, width: 1, type: "dashed" }, tooltip: { show: false } },
    ],
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" label="How revenue falls on the listings">
    <template #caption>listings, most revenue first · dashed: all alike</template>
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">share of the listings</th>
            <th scope="col">share of the revenue</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="[at, made] in points" :key="at">
            <td>{{ formatShare(at) }}</td>
            <td>{{ formatShare(made) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
