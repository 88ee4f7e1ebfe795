<script setup lang="ts">
import { computed } from "vue";
import type { NichePreview, Schemas } from "@/api/client";
import { formatChange, formatCount, formatDay, stepDay } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { band, hollow, useStyle } from "./useStyle";
import { strong, type TipLine } from "./tip";

/** A niche's curve with all that was found in it, and the year that may come. */
const props = defineProps<{ niche: NichePreview; demand: Schemas["DemandDetail"] }>();
const style = useStyle();

const unit = computed(() =>
  props.niche.figures.basis === "relative" ? "relative, highest 100" : "searches",
);
const days = computed(() =>
  props.niche.values.map((_, i) => stepDay(props.niche.first, i, props.niche.period)),
);
const ahead = computed(() => {
  const made = props.demand.ahead;
  return (made?.values ?? []).map((value, i) => ({
    day: stepDay(made?.first ?? "", i, props.niche.period),
    value,
    low: made?.low[i] ?? null,
    high: made?.high[i] ?? null,
  }));
});
const valueOn = computed(() => new Map(days.value.map((day, i) => [day, props.niche.values[i]])));
const outliers = computed(() => new Set(props.demand.outliers));

/** Runs of periods without a figure, as first day and the day after the last. */
const gaps = computed(() => {
  const runs: [string, string][] = [];
  for (const day of props.demand.absent) {
    const next = stepDay(day, 1, props.niche.period);
    const last = runs.at(-1);
    if (last?.[1] === day) last[1] = next;
    else runs.push([day, next]);
  }
  return runs;
});

function told(points: { axisValue: number }[]): TipLine[] {
  const day = new Date(points[0]?.axisValue ?? 0).toISOString().slice(0, 10);
  const at = days.value.indexOf(day);
  const come = ahead.value.find((one) => one.day === day);
  if (come)
    return [
      formatDay(day),
      ["may come to ", strong(formatCount(come.value))],
      `80% interval ${formatCount(come.low)} to ${formatCount(come.high)}`,
    ];
  const value = props.niche.values[at];
  const lines: TipLine[] = [[`${formatDay(day)}: `, strong(formatCount(value)), ` ${unit.value}`]];
  if (value === null) lines.push("no figure came");
  if (outliers.value.has(day)) lines.push("taken for an outlier");
  const level = props.niche.level?.[at];
  if (level != null) lines.push(`level ${formatCount(level)}`);
  return lines;
}

const option = computed(() => {
  const { t, small, dated, tooltip, timeAxis, valueAxis } = style.value;
  const low = ahead.value.map((one): [string, number | null] => [one.day, one.low]);
  const top = ahead.value.map((one) => one.high);
  return {
    animation: false,
    grid: { left: 48, right: 16, top: 24, bottom: 22 },
    xAxis: { ...timeAxis, max: ahead.value.at(-1)?.day },
    yAxis: { ...valueAxis, min: 0, name: `${unit.value} a ${props.niche.period}` },
    tooltip: { ...tooltip, trigger: "axis", formatter: told },
    series: [
      ...band(low, top, t.q1, "ahead"),
      {
        type: "line",
        data: ahead.value.map((one) => [one.day, one.value]),
        showSymbol: false,
        lineStyle: { color: t.q5, width: 1.3, type: [4, 3] },
        itemStyle: { color: t.q5 },
        markLine: {
          silent: true,
          symbol: "none",
          lineStyle: { color: t.ochre, type: "solid", width: 1 },
          label: { ...dated, formatter: "{b}", position: "end", distance: 3 },
          data: props.niche.figures.level_shifts.map((shift) => ({
            name: `level ${formatChange(shift.size)}`,
            xAxis: shift.from,
          })),
        },
      },
      {
        type: "line",
        data: days.value.map((day, i) => [day, props.niche.values[i]]),
        showSymbol: false,
        lineStyle: { color: t.q4, width: 1.4 },
        itemStyle: { color: t.q4 },
        markArea: {
          silent: true,
          itemStyle: { color: t.season, opacity: 0.35 },
          label: { ...small, position: "insideTop" },
          data: gaps.value.map(([from, to]) => [{ name: "gap", xAxis: from }, { xAxis: to }]),
        },
      },
      {
        type: "line",
        data: days.value.map((day, i) => [day, props.niche.level?.[i] ?? null]),
        showSymbol: false,
        lineStyle: { color: t.ink, width: 1.3 },
        itemStyle: { color: t.ink },
      },
      {
        type: "scatter",
        data: props.demand.outliers.map((day) => [day, valueOn.value.get(day) ?? null]),
        symbol: "diamond",
        symbolSize: 10,
        itemStyle: hollow(t, t.ochre, 1),
        label: { show: true, ...dated, formatter: "outlier", position: "right" },
      },
    ],
  };
});
</script>

<template>
  <ChartFrame kept :option="option" :label="`Searches of ${niche.name} with what may come`">
    <template #caption>
      black: level without the calendar<template v-if="ahead.length"
        >; dashed: what may come, with its 80% interval</template
      ><template v-if="gaps.length">; shaded: no figures</template>
    </template>
    <template #table>
      <table>
        <caption>
          {{
            unit
          }}
          by
          {{
            niche.period
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">from</th>
            <th scope="col">{{ unit }}</th>
            <th scope="col">level</th>
            <th scope="col">low</th>
            <th scope="col">high</th>
            <th scope="col">remark</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(day, i) in days" :key="day">
            <td>{{ day }}</td>
            <td>{{ formatCount(niche.values[i]) }}</td>
            <td>{{ formatCount(niche.level?.[i]) }}</td>
            <td />
            <td />
            <td>
              {{ niche.values[i] === null ? "no figure" : outliers.has(day) ? "outlier" : "" }}
            </td>
          </tr>
          <tr v-for="one in ahead" :key="one.day">
            <td>{{ one.day }}</td>
            <td>{{ formatCount(one.value) }}</td>
            <td />
            <td>{{ formatCount(one.low) }}</td>
            <td>{{ formatCount(one.high) }}</td>
            <td>may come</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
