<script setup lang="ts">
import { computed } from "vue";
import type { CurvePreview } from "./curvePreview";
import { formatCount } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import { smallValues } from "./smallValues";
import { useTokens } from "./useTokens";

const props = defineProps<{ subject: CurvePreview; kept?: boolean }>();
const tokens = useTokens();

const total = (values: (number | null)[]): string =>
  formatCount(values.reduce<number>((sum, value) => sum + (value ?? 0), 0));

const option = computed(() => {
  const t = tokens.value;
  const slots = props.subject.period === "week" ? 52 : 12;
  const years = props.subject.years;
  // The latest year and the one before stand out; older ones fall back.
  const styles = [
    { color: t.q6, width: 2 },
    { color: t.q4, width: 1.3 },
  ];
  return {
    animation: false,
    grid: { left: 38, right: 34, top: 10, bottom: 16 },
    xAxis: {
      type: "category",
      data: Array.from({ length: slots }, (_, i) => i),
      boundaryGap: false,
      axisLine: { lineStyle: { color: t.rule } },
      axisTick: { show: false },
      axisLabel: {
        fontFamily: t.condensed,
        fontSize: 10,
        color: t.ink3,
        interval: (i: number) => i % Math.round(slots / 4) === 0,
        formatter: (i: string) =>
          ["Jan", "Apr", "Jul", "Oct"][Math.round((Number(i) / slots) * 4)] ?? "",
        align: "left",
      },
    },
    yAxis: smallValues(t),
    series: years.map((one, i) => {
      const style = styles[years.length - 1 - i] ?? { color: t.q3, width: 0.8, opacity: 0.7 };
      const known = one.values.filter((value) => value !== null);
      const rises = (known.at(-1) ?? 0) > (known.at(-5) ?? 0);
      // Away from the older years' lines, which go on to the right of a year that has not ended; a year that has
      // just begun has no room at its left.
      const aside = rises && known.length < slots && known.length > slots / 5 ? -34 : 0;
      return {
        type: "line",
        name: String(one.year),
        data: one.values,
        showSymbol: false,
        lineStyle: style,
        itemStyle: { color: style.color },
        endLabel: {
          show: i >= years.length - 2,
          formatter: "{a}",
          fontFamily: t.condensed,
          fontSize: 10,
          color: i === years.length - 1 ? t.ink : t.ink3,
          distance: 3,
          offset: [aside, -7],
          textBorderColor: t.page,
          textBorderWidth: 3,
        },
      };
    }),
  };
});
</script>

<template>
  <ChartFrame
    :kept="kept"
    :option="option"
    :label="`Years of ${subject.name} laid over one another`"
  >
    <template #caption>years laid over one another</template>
    <template #table>
      <table>
        <caption>
          Searches by
          {{
            subject.period
          }}
          and year
        </caption>
        <thead>
          <tr>
            <th scope="col">{{ subject.period }}</th>
            <th v-for="one in subject.years" :key="one.year" scope="col">{{ one.year }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="slot in subject.years[0]?.values.length" :key="slot">
            <th scope="row">{{ slot }}</th>
            <td v-for="one in subject.years" :key="one.year">
              {{ formatCount(one.values[slot - 1]) }}
            </td>
          </tr>
          <tr>
            <th scope="row">all</th>
            <td v-for="one in subject.years" :key="one.year">{{ total(one.values) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
