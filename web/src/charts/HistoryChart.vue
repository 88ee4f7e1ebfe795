<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatDay, stepDay } from "@/format/values";
import { moneyUnit } from "@/format/money";
import ChartFrame from "./ChartFrame.vue";
import { formatAxis, useStyle } from "./useStyle";
import { strong } from "./tip";

type Curve = Schemas["ShownCurve"];

/** One listing over time, each measure on a strip of its own under one axis. */
const props = defineProps<{ title: string; curves: Curve[] }>();
const style = useStyle();
const STRIP = 62; // Pixels a measure is high, its name included.

const rows = computed(() =>
  props.curves.map((curve) => ({
    curve,
    points: curve.values.map((value, i) => [stepDay(curve.first, i, curve.period), value]),
  })),
);
const days = computed(() => {
  const all = rows.value.flatMap(({ points }) => points.map(([day]) => String(day)));
  return [...new Set(all)].sort();
});
const valueOn = (at: number, day: string): number | null => {
  const found = rows.value[at]?.points.find(([one]) => one === day);
  return typeof found?.[1] === "number" ? found[1] : null;
};

const option = computed(() => {
  const { t, small, tooltip, timeAxis, valueAxis } = style.value;
  return {
    animation: false,
    axisPointer: { link: [{ xAxisIndex: "all" }] },
    grid: rows.value.map((_, i) => ({ left: 54, right: 60, top: 18 + i * STRIP, height: STRIP - 24 })),
    xAxis: rows.value.map((_, i) => ({
      ...timeAxis,
      gridIndex: i,
      min: days.value[0],
      max: days.value.at(-1),
      axisLabel: { ...small, show: i === rows.value.length - 1 },
    })),
    yAxis: rows.value.map(({ curve }, i) => ({
      ...valueAxis,
      gridIndex: i,
      // A rank of one is the best, so better is up.
      inverse: curve.key === "sales_rank",
      scale: ["price", "sales_rank", "reviews"].includes(curve.key),
      min: ["price", "sales_rank", "reviews"].includes(curve.key) ? undefined : 0,
      splitNumber: 2,
      name: `${curve.label}${curve.unit === curve.label.toLowerCase() ? "" : `, ${moneyUnit(curve.unit)}`}`,
      nameLocation: curve.key === "sales_rank" ? "start" : "end",
      nameGap: 6,
    })),
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: (points: { axisValue: number }[]) => {
        const day = new Date(points[0]?.axisValue ?? 0).toISOString().slice(0, 10);
        const parts = rows.value.map(({ curve }, i) => [`${curve.label} `, strong(formatAxis(valueOn(i, day)))]);
        return [formatDay(day), ...parts];
      },
    },
    series: rows.value.map(({ points }, i) => ({
      type: "line",
      xAxisIndex: i,
      yAxisIndex: i,
      data: points,
      showSymbol: false,
      lineStyle: { color: t.q5, width: 1.4 },
      itemStyle: { color: t.q5 },
      endLabel: { show: true, ...small, color: t.ink, formatter: ({ value }: { value: [string, number] }) => formatAxis(value[1]) },
    })),
  };
}); // prettier-ignore
const height = computed(() => `${rows.value.length * STRIP + 46}px`);
</script>

<template>
  <ChartFrame kept :option="option" :label="`${title} over time`" :style="{ height }">
    <template v-if="curves.some((one) => one.key === 'sales_rank')" #caption
      >a rank of 1 is the best and stands on top</template
    >
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">from</th>
            <th v-for="{ curve } in rows" :key="curve.key" scope="col">
              {{ curve.label }}, {{ moneyUnit(curve.unit) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="day in days" :key="day">
            <th scope="row">{{ day }}</th>
            <td v-for="(_, i) in rows" :key="i">{{ formatAxis(valueOn(i, day)) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
