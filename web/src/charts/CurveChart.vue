<script setup lang="ts">
import { computed } from "vue";
import type { CurvePreview } from "./curvePreview";
import { formatChange, formatCount, formatDay, stepDay } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import { useTokens } from "./useTokens";
import { smallValues } from "./smallValues";
import { strong } from "./tip";
import { useKind } from "@/state/useKind";

const { curve } = useKind();
const props = defineProps<{ subject: CurvePreview; kept?: boolean }>();
const tokens = useTokens();

const days = computed(() =>
  props.subject.values.map((_, i) => stepDay(props.subject.first, i, props.subject.period)),
);
/** The first period of each year, where its label stands. */
const newYears = computed(() =>
  days.value.filter((day, i) => i > 0 && day.slice(0, 4) !== days.value[i - 1]?.slice(0, 4)),
);

/** Level shifts on the curve's own days. */
const shifts = computed(() =>
  props.subject.figures.level_shifts.map((shift) => ({ day: shift.from, size: shift.size })),
);
const unit = computed(() =>
  props.subject.figures.basis === "relative" ? "relative, highest 100" : curve,
);

const option = computed(() => {
  const t = tokens.value;
  const small = { fontFamily: t.condensed, fontSize: 10, color: t.ink3 };
  return {
    animation: false,
    grid: { left: 38, right: 46, top: 16, bottom: 6 },
    xAxis: { type: "category", data: days.value, show: false, boundaryGap: false },
    yAxis: smallValues(t),
    tooltip: {
      trigger: "axis",
      confine: true,
      backgroundColor: t.page,
      borderColor: t.rule,
      borderRadius: 2,
      textStyle: { color: t.ink, fontSize: 12 },
      formatter: (points: { dataIndex: number }[]) => {
        const at = points[0]?.dataIndex ?? 0;
        const level = props.subject.level?.[at];
        const line = [
          `${formatDay(days.value[at] ?? props.subject.first)}: `,
          strong(formatCount(props.subject.values[at])),
          ` ${unit.value}`,
        ];
        return level == null ? [line] : [line, `level ${formatCount(level)}`];
      },
    },
    series: [
      {
        type: "line",
        data: props.subject.values,
        showSymbol: false,
        lineStyle: { color: t.q4, width: 1.4 },
        itemStyle: { color: t.q4 },
        markLine: {
          silent: true,
          symbol: "none",
          lineStyle: { color: t.rule, type: "solid", width: 1 },
          label: { ...small, position: "end", distance: 2, align: "left", formatter: "{b}" },
          data: newYears.value.map((day) => ({ name: day.slice(0, 4), xAxis: day })),
        },
        markPoint: {
          silent: true,
          symbol: "path://M0,0 L1,0 L1,60 L0,60 Z",
          symbolSize: [1, 60],
          symbolOffset: [0, -30],
          itemStyle: { color: t.ochre },
          label: {
            ...small,
            color: t.ochre,
            position: "top",
            distance: 2,
            formatter: ({ name }: { name: string }) => name,
          },
          data: shifts.value.map(({ day, size }) => ({
            name: `level ${formatChange(size)}`,
            coord: [day, 0],
          })),
        },
      },
      {
        type: "line",
        data: props.subject.level ?? [],
        showSymbol: false,
        lineStyle: { color: t.ink, width: 1.3 },
        itemStyle: { color: t.ink },
        endLabel: {
          show: true,
          ...small,
          color: t.ink,
          formatter: ({ value }: { value: number }) => formatCount(value),
        },
      },
    ],
  };
});
</script>

<template>
  <ChartFrame
    :kept="kept"
    :option="option"
    :label="`Searches of ${subject.name} over time with its level`"
  >
    <template #caption
      >{{ unit }} a {{ subject.period }} · line: level without the calendar</template
    >
    <template #table>
      <table>
        <caption>
          Searches of
          {{
            subject.name
          }}
          by
          {{
            subject.period
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">from</th>
            <th scope="col">{{ curve }}</th>
            <th scope="col">level</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(day, i) in days" :key="day">
            <td>{{ day }}</td>
            <td>{{ formatCount(subject.values[i]) }}</td>
            <td>{{ formatCount(subject.level?.[i]) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
