<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatShare } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { strong, type TipLine } from "./tip";
import { band, formatPercent, useStyle } from "./useStyle";

/** What launches reached of the niche, by months since they were launched. */
const props = defineProps<{ newcomers: Schemas["Newcomers"] }>();
const style = useStyle();
const months = computed(() => props.newcomers.months);
const rests = (one: Schemas["NewcomerMonth"]): string =>
  `${one.own} of the niche, ${one.pooled} of its category`;

function told(points: { axisValue: string }[]): TipLine[] {
  const one = months.value.find(({ month }) => String(month) === String(points[0]?.axisValue));
  if (!one) return [];
  if (one.p50 === null) return [`month ${one.month}: too few launches to say`, rests(one)];
  return [
    [`month ${one.month}: `, strong(formatShare(one.p50))],
    `one in ten under ${formatShare(one.p10)}, one in ten over ${formatShare(one.p90)}`,
    `launches: ${rests(one)}`,
    `still on sale: ${formatShare(one.alive)} of ${one.alive_of}`,
  ];
}

const option = computed(() => {
  const { t, small, tooltip, valueAxis } = style.value;
  const low = months.value.map((one): [string, number | null] => [String(one.month), one.p10]);
  return {
    animation: false,
    grid: { left: 44, right: 16, top: 12, bottom: 22 },
    xAxis: {
      type: "category",
      data: months.value.map((one) => String(one.month)),
      axisLabel: small,
      axisTick: { show: false },
      axisLine: { lineStyle: { color: t.rule } },
    },
    yAxis: {
      ...valueAxis,
      min: 0,
      axisLabel: { ...small, formatter: formatPercent },
    },
    tooltip: { ...tooltip, trigger: "axis", formatter: told },
    series: [
      ...band(
        low,
        months.value.map((one) => one.p90),
        t.q1,
        "newcomers",
      ),
      {
        type: "line",
        data: months.value.map((one) => [String(one.month), one.p50]),
        showSymbol: true,
        symbolSize: 4,
        lineStyle: { color: t.q6, width: 1.5 },
        itemStyle: { color: t.q6 },
      },
    ],
  };
});
</script>

<template>
  <ChartFrame kept :option="option" label="What newcomers reached, by months since launch">
    <template #caption
      >share of the niche’s units by months since launch; line: the middle launch, band: eight of
      ten</template
    >
    <template #table>
      <table>
        <caption>
          share of the niche’s units by months since launch
        </caption>
        <thead>
          <tr>
            <th scope="col">month</th>
            <th scope="col">10th percentile</th>
            <th scope="col">middle</th>
            <th scope="col">90th percentile</th>
            <th scope="col">launches</th>
            <th scope="col">still on sale</th>
            <th scope="col">price over the median</th>
            <th scope="col">reviews</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in months" :key="one.month">
            <td>{{ one.month }}</td>
            <td>{{ formatShare(one.p10) }}</td>
            <td>{{ formatShare(one.p50) }}</td>
            <td>{{ formatShare(one.p90) }}</td>
            <td>{{ rests(one) }}</td>
            <td>{{ formatShare(one.alive) }}</td>
            <td>{{ formatShare(one.price) }}</td>
            <td>{{ one.reviews ?? "–" }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
