<script setup lang="ts">
import { computed } from "vue";
import type { MadePlan } from "@/api/plans";
import { formatMoney, formatRound } from "@/format/money";
import { formatDay } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { strong, type TipLine } from "./tip";
import { band, useStyle } from "./useStyle";

/** The cash path of a plan: the balance since the order, week by week. */
const props = defineProps<{ plan: MadePlan }>();
const style = useStyle();
const money = (value: number | null | undefined): string => formatMoney(value, false);

const weeks = computed(() => props.plan.cash.weeks);
const lowest = computed(() => {
  const at = weeks.value.find((one) => one.week === props.plan.cash.lowest_week);
  return at && at.middle < 0 ? at : undefined;
});

function told(points: { axisValue: number }[]): TipLine[] {
  const day = new Date(points[0]?.axisValue ?? 0).toISOString().slice(0, 10);
  const one = weeks.value.find(({ week }) => week === day);
  if (!one) return [];
  const paid = props.plan.payments.filter(({ week }) => week === day);
  return [
    [`week of ${formatDay(day)}: `, strong(money(one.middle))],
    `one in ten below ${money(one.low)}, one in ten above ${money(one.high)}`,
    ...paid.map(({ what, amount }) => `${what} ${money(amount)}`),
  ];
}

const option = computed(() => {
  const { t, small, dated, tooltip, timeAxis, valueAxis } = style.value;
  const low = weeks.value.map((one): [string, number] => [one.week, one.low]);
  const high = weeks.value.map((one) => one.high);
  return {
    animation: false,
    grid: { left: 58, right: 16, top: 18, bottom: 22 },
    xAxis: { ...timeAxis, axisLine: { onZero: false, lineStyle: { color: t.rule } } },
    // Below the lowest there is room for its figure.
    yAxis: {
      ...valueAxis,
      boundaryGap: ["12%", "4%"],
      axisLabel: { ...small, formatter: formatRound },
    },
    tooltip: { ...tooltip, trigger: "axis", formatter: told },
    series: [
      // The band lies on both sides of 0.
      ...band(low, high, t.q1, "cash").map((one) => ({ ...one, stackStrategy: "all" })),
      {
        type: "line",
        data: weeks.value.map((one) => [one.week, one.middle]),
        showSymbol: false,
        lineStyle: { color: t.q6, width: 1.5 },
        itemStyle: { color: t.q6 },
        markLine: {
          silent: true,
          symbol: "none",
          lineStyle: { color: t.ink3, type: "solid", width: 1 },
          label: { show: false },
          data: [{ yAxis: 0 }],
        },
      },
      {
        type: "scatter",
        data: lowest.value ? [[lowest.value.week, lowest.value.middle]] : [],
        symbolSize: 8,
        itemStyle: { color: t.ochre },
        label: {
          show: true,
          ...dated,
          position: "bottom",
          formatter: `lowest ${money(lowest.value?.middle)}`,
        },
      },
    ],
  };
});
</script>

<template>
  <ChartFrame kept :option="option" label="Cash since the order, week by week">
    <template #caption>middle of 10,000 draws; band: eight draws of ten</template>
    <template #table>
      <table>
        <caption>
          balance by week
        </caption>
        <thead>
          <tr>
            <th scope="col">week of</th>
            <th scope="col">low</th>
            <th scope="col">middle</th>
            <th scope="col">high</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in weeks" :key="one.week">
            <td>{{ one.week }}</td>
            <td>{{ money(one.low) }}</td>
            <td>{{ money(one.middle) }}</td>
            <td>{{ money(one.high) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
