<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { moneyUnit } from "@/format/money";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { strong } from "./tip";
import { formatAxis, useStyle } from "./useStyle";

/** Listings by price: bars for now, a line across each for a year ago. */
const props = defineProps<{ prices: Schemas["PriceSpread"] }>();
const style = useStyle();

const bins = computed(() =>
  props.prices.now.map((now, i) => ({
    from: props.prices.edges[i] ?? 0,
    to: props.prices.edges[i + 1] ?? 0,
    now,
    then: props.prices.then[i] ?? 0,
  })),
);
const name = (bin: { from: number; to: number }): string =>
  `${formatAxis(bin.from)} to ${formatAxis(bin.to)}`;
const option = computed(() => {
  const { t, small, tooltip } = style.value;
  return {
    animation: false,
    grid: { left: 4, right: 10, top: 18, bottom: 20 },
    xAxis: {
      type: "category",
      data: bins.value.map((bin) => formatAxis(bin.from)),
      axisLine: { lineStyle: { color: t.rule } },
      axisTick: { show: false },
      axisLabel: { ...small, align: "left", hideOverlap: true },
    },
    yAxis: { type: "value", show: false, min: 0 },
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: ([first]: { dataIndex: number }[]) => {
        const bin = bins.value[first?.dataIndex ?? 0];
        return bin ? [`${name(bin)} ${moneyUnit("currency")}`, [strong(String(bin.now)), ` listings, ${bin.then} a year ago`]] : [];
      },
    },
    series: [
      {
        type: "bar",
        data: bins.value.map((bin) => bin.now),
        barCategoryGap: "10%",
        itemStyle: { color: t.q3 },
        label: { show: true, ...small, position: "top", formatter: ({ value }: { value: number }) => String(value || "") },
      },
      {
        type: "line",
        data: bins.value.map((bin) => bin.then),
        showSymbol: true,
        symbol: "rect",
        symbolSize: [18, 2],
        lineStyle: { width: 0 },
        itemStyle: { color: t.ink },
      },
    ],
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" label="Listings by price">
    <template #caption>listings by price, {{ moneyUnit("currency") }} · line: a year ago</template>
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">price, {{ moneyUnit("currency") }}</th>
            <th scope="col">listings now</th>
            <th scope="col">a year ago</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="bin in bins" :key="bin.from">
            <th scope="row">{{ name(bin) }}</th>
            <td>{{ bin.now }}</td>
            <td>{{ bin.then }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
