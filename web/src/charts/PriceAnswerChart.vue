<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatDay } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { formatPercent, useStyle } from "./useStyle";

/** Each step of the price against the step of the purchase rate in the same period. */
const props = defineProps<{ steps: Schemas["PriceStep"][] }>();
const style = useStyle();

const option = computed(() => {
  const { t, tooltip, valueAxis, small } = style.value;
  const axis = {
    ...valueAxis,
    axisLabel: { ...small, formatter: formatPercent },
    axisLine: { show: true, lineStyle: { color: t.ink3 } },
    splitLine: { show: false },
  };
  return {
    animation: false,
    grid: { left: 20, right: 24, top: 26, bottom: 34, containLabel: true },
    xAxis: { ...axis, scale: true, name: "price, change", nameLocation: "middle", nameGap: 24, nameTextStyle: small },
    yAxis: { ...axis, scale: true, name: "purchase rate, change" },
    tooltip: {
      ...tooltip,
      formatter: ({ dataIndex }: { dataIndex: number }) => {
        const step = props.steps[dataIndex];
        return step
          ? [`from ${formatDay(step.first)}`, `price ${formatPercent(step.price)}`, `purchase rate ${formatPercent(step.rate)}`]
          : "";
      },
    },
    series: [
      {
        type: "scatter",
        data: props.steps.map((step) => [step.price, step.rate]),
        symbolSize: 7,
        itemStyle: { color: t.q4, borderColor: t.page, borderWidth: 1 },
      },
    ],
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" label="Steps of the price and of the purchase rate">
    <template #caption>one point per period: its change from the one before</template>
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">from</th>
            <th scope="col">price, change</th>
            <th scope="col">purchase rate, change</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="step in steps" :key="step.first">
            <th scope="row">{{ step.first }}</th>
            <td>{{ formatPercent(step.price) }}</td>
            <td>{{ formatPercent(step.rate) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
