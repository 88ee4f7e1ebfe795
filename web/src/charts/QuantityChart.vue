<script setup lang="ts">
import { computed } from "vue";
import type { MadePlan } from "@/api/plans";
import { formatMoney, formatRound } from "@/format/money";
import { formatCount } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { strong, type TipLine } from "./tip";
import { formatAxis, useStyle } from "./useStyle";

/** What quantities earn on average, with the one that is ordered and what the plain practice would order. */
const props = defineProps<{ plan: MadePlan }>();
const style = useStyle();
const plain = computed(() => props.plan.plain_practice?.units ?? null);
const money = (value: number | null | undefined): string => formatMoney(value, false);
/** As far as a decision may reach: what lies far beyond demand only falls. */
const points = computed(() => {
  const { chosen: units, high, curve } = props.plan.quantity;
  const far = Math.max(2.2 * units, 1.3 * high, plain.value ?? 0);
  return curve.filter((one) => one.units <= far);
});
const chosen = computed(() => points.value.find((one) => one.units === props.plan.quantity.chosen));

function told(shown: { axisValue: number }[]): TipLine[] {
  const at = shown[0]?.axisValue ?? 0;
  const near = [...points.value].sort((a, b) => Math.abs(a.units - at) - Math.abs(b.units - at))[0];
  return near ? [[`${formatCount(near.units)} units: `, strong(money(near.profit)), " on average"]] : []; // prettier-ignore
}

const option = computed(() => {
  const { t, small, dated, tooltip, valueAxis } = style.value;
  const last = Math.max(...points.value.map((one) => one.units), plain.value ?? 0);
  return {
    animation: false,
    grid: { left: 58, right: 18, top: 26, bottom: 36 },
    xAxis: {
      ...valueAxis,
      max: last,
      splitLine: { show: false },
      axisLabel: { ...small, formatter: formatAxis },
      name: "units ordered",
      nameLocation: "middle",
      nameGap: 22,
      nameTextStyle: small,
      axisLine: { show: true, onZero: false, lineStyle: { color: t.rule } },
    },
    yAxis: { ...valueAxis, scale: true, axisLabel: { ...small, formatter: formatRound } },
    tooltip: { ...tooltip, trigger: "axis", formatter: told },
    series: [
      {
        type: "line",
        data: points.value.map((one) => [one.units, one.profit]),
        showSymbol: false,
        lineStyle: { color: t.q5, width: 1.5 },
        itemStyle: { color: t.q5 },
        markLine: {
          silent: true,
          symbol: "none",
          label: { ...dated, formatter: "{b}", position: "end", distance: 3 },
          data: [
            {
              name: `${formatCount(props.plan.quantity.chosen)} units`,
              xAxis: props.plan.quantity.chosen,
              lineStyle: { color: t.ochre, type: "solid", width: 1.4 },
            },
            ...(plain.value === null
              ? []
              : [
                  {
                    name: `plain practice ${formatCount(Math.round(plain.value))}`,
                    xAxis: plain.value,
                    lineStyle: { color: t.ink3, type: "dotted", width: 1 },
                    label: { ...small, position: "insideEndTop" },
                  },
                ]),
          ],
        },
      },
      {
        type: "scatter",
        data: chosen.value ? [[chosen.value.units, chosen.value.profit]] : [],
        symbolSize: 8,
        itemStyle: { color: t.ochre },
      },
    ],
  };
});
</script>

<template>
  <ChartFrame kept :option="option" label="What quantities earn on average">
    <template #caption>profit on average by units ordered, over 10,000 draws of demand</template>
    <template #table>
      <table>
        <caption>
          profit by units ordered
        </caption>
        <thead>
          <tr>
            <th scope="col">units</th>
            <th scope="col">profit</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in points" :key="one.units">
            <td>{{ formatCount(one.units) }}</td>
            <td>{{ money(one.profit) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
