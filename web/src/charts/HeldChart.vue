<script setup lang="ts">
import { computed } from "vue";
import { formatShare } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { strong } from "./tip";
import { formatPercent, hollow, useStyle } from "./useStyle";

export interface HeldPoint {
  /** Where it stands on the axis, and what it is called there. */
  x: number;
  name: string;
  value: number | null;
  low: number | null;
  high: number | null;
  many: number;
}

/** Shares that were counted, each with its interval, beside what was meant: a level, or the diagonal. */
const props = defineProps<{
  points: HeldPoint[];
  label: string;
  along: string;
  up: string;
  /** A share that all are held against; the diagonal where it is null. */
  meant: number | null;
  /** Ends of the axis; it is one of shares where there are none. */
  ends?: [number, number];
}>();
const style = useStyle();

const known = computed(() => props.points.filter((one) => one.value !== null));
const top = computed(() => {
  if (props.meant === null) return 1;
  const most = Math.max(props.meant, ...known.value.map((one) => one.high ?? one.value ?? 0));
  return Math.min(1, Math.ceil(most * 10 + 0.2) / 10);
});
const least = computed(() => {
  if (props.meant !== null) return 0;
  const low = Math.min(...known.value.flatMap((one) => [one.x, one.low ?? one.value ?? 1]));
  return Math.max(0, Math.floor(low * 10 - 0.2) / 10);
});
const range = computed<[number, number]>(() => props.ends ?? [least.value, 1]);

const option = computed(() => {
  const { t, small, tooltip, valueAxis } = style.value;
  const [from, to] = range.value;
  const whole = Boolean(props.ends);
  const meant = props.meant;
  return {
    animation: false,
    grid: { left: 44, right: 20, top: 26, bottom: 36 },
    xAxis: {
      ...valueAxis,
      min: from,
      max: to,
      splitLine: { show: false },
      axisLine: { show: true, lineStyle: { color: t.rule } },
      interval: whole ? 1 : 0.1,
      name: props.along,
      nameLocation: "middle",
      nameGap: 20,
      nameTextStyle: small,
      axisLabel: { ...small, formatter: (at: number) => (whole ? (at <= from || at >= to ? "" : String(at)) : formatPercent(at)) },
    },
    yAxis: {
      ...valueAxis,
      min: least.value,
      max: top.value,
      name: props.up,
      axisLabel: { ...small, formatter: formatPercent },
    },
    tooltip: {
      ...tooltip,
      formatter: ({ dataIndex }: { dataIndex: number }) => {
        const one = known.value[dataIndex];
        if (!one) return [];
        const ends = one.low === null ? "" : ` (${formatShare(one.low)} to ${formatShare(one.high)})`;
        return [one.name, [strong(formatShare(one.value)), `${ends}, ${one.many} cases`]];
      },
    },
    series: [
      {
        type: "line",
        silent: true,
        symbol: "none",
        lineStyle: { color: t.ochre, width: 1, type: meant === null ? "dashed" : "solid" },
        data: meant === null ? [[from, from], [to, to]] : [[from, meant], [to, meant]],
      },
      {
        type: "custom",
        silent: true,
        data: known.value.map((one) => [one.x, one.low, one.high]),
        renderItem: (_: unknown, api: { value: (at: number) => number; coord: (at: number[]) => number[] }) => {
          const ends = [api.value(1), api.value(2)];
          if (ends.some((end) => !Number.isFinite(end))) return null;
          const [[x, y1], [, y2]] = ends.map((end) => api.coord([api.value(0), end])) as [number[], number[]];
          return { type: "line", shape: { x1: x, y1, x2: x, y2 }, style: { stroke: t.q4, lineWidth: 1.6 } };
        },
      },
      {
        type: "scatter",
        symbolSize: 8,
        data: known.value.map((one) => [one.x, one.value]),
        itemStyle: hollow(t, t.q5, 2),
      },
    ],
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" :label="label">
    <template #caption><slot /></template>
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">{{ along }}</th>
            <th scope="col">{{ up }}</th>
            <th scope="col">from</th>
            <th scope="col">to</th>
            <th scope="col">cases</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in points" :key="one.x">
            <th scope="row">{{ one.name }}</th>
            <td>{{ formatShare(one.value) }}</td>
            <td>{{ formatShare(one.low) }}</td>
            <td>{{ formatShare(one.high) }}</td>
            <td>{{ one.many }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
