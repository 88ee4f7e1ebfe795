<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatDay, stepDay } from "@/format/values";
import { moneyUnit } from "@/format/money";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { formatAxis, useStyle } from "./useStyle";
import { strong } from "./tip";

type Curve = Schemas["ShownCurve"];

/** Two curves over one another: each on its own axis, or both against their means on one. */
const props = defineProps<{
  first: Curve;
  second: Curve | undefined;
  indexed: boolean;
  /** Weeks by which the second trails the first, where that is read. */
  lag?: number | null;
}>();
const style = useStyle();

/** Where the first is highest within the last year, and the time after it by which the other trails. */
const trail = computed(() => {
  const { values, period, first } = props.first;
  if (!props.lag || props.lag <= 0 || period !== "week") return null;
  const from = Math.max(0, values.length - 52);
  let top = from;
  values.forEach((value, i) => {
    if (i >= from && (value ?? 0) > (values[top] ?? 0)) top = i;
  });
  const day = stepDay(first, top, period);
  const later = new Date(`${day}T00:00:00Z`);
  later.setUTCDate(later.getUTCDate() + Math.round(props.lag * 7));
  return [day, later.toISOString().slice(0, 10)];
});

const both = computed(() => [props.first, props.second].filter((one) => one !== undefined));
const scaled = computed(() =>
  both.value.map((curve) => {
    const known = curve.values.filter((value) => value !== null);
    const mean = known.reduce((sum, value) => sum + value, 0) / Math.max(known.length, 1);
    const scale = props.indexed && mean ? 100 / mean : 1;
    return curve.values.map((value, i) => [
      stepDay(curve.first, i, curve.period),
      value === null ? null : value * scale,
    ]);
  }),
);

function nameOf(curve: Curve | undefined): string {
  if (!curve) return "";
  const unit = curve.unit === curve.label.toLowerCase() ? "" : `${moneyUnit(curve.unit)}, `;
  return `${curve.label}, ${unit}a ${curve.period}`;
}

const option = computed(() => {
  const { t, small, dated, tooltip, timeAxis, valueAxis } = style.value;
  const axes = props.indexed ? 1 : both.value.length;
  return {
    animation: false,
    grid: { left: 54, right: axes > 1 ? 60 : 20, top: 26, bottom: 22 },
    xAxis: timeAxis,
    yAxis: Array.from({ length: axes }, (_, i) => ({
      ...valueAxis,
      scale: !props.indexed && both.value[i]?.key === "price",
      name: props.indexed ? "own mean = 100" : nameOf(both.value[i]),
      nameTextStyle: { ...small, color: i ? t.ochreText : t.q5, align: i ? "right" : "left" },
      splitLine: { show: i === 0, lineStyle: { color: t.rule } },
    })),
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: (points: { value: [string, number | null]; seriesName: string }[]) =>
        [
          formatDay(points[0]?.value[0] ?? ""),
          ...points.map((p) => [`${p.seriesName} `, strong(formatAxis(p.value[1]))]),
        ],
    },
    series: both.value.map((curve, i) => ({
      type: "line",
      name: curve.label,
      yAxisIndex: axes > 1 ? i : 0,
      data: scaled.value[i],
      showSymbol: false,
      connectNulls: curve.key === "sponsored",
      lineStyle: i ? { color: t.ochre, width: 1.5, type: [6, 3] } : { color: t.q5, width: 1.6 },
      itemStyle: { color: i ? t.ochre : t.q5 },
      markArea:
        i || !trail.value
          ? undefined
          : {
              silent: true,
              itemStyle: { color: t.ochre, opacity: 0.25 },
              label: { ...dated, position: "top", formatter: `trails by ${formatAxis(props.lag)} weeks` },
              data: [[{ xAxis: trail.value[0] }, { xAxis: trail.value[1] }]],
            },
    })),
  };
}); // prettier-ignore

const label = computed(() => both.value.map((one) => one.label).join(" and "));
</script>

<template>
  <ChartFrame kept :option="option" :label="`${label} over time`">
    <template #caption
      >{{ second ? `${first.label}: solid line` : first.label
      }}<template v-if="second">; {{ second.label }}: dashed</template></template
    >
    <template #table>
      <table v-for="curve in both" :key="curve.key">
        <caption>
          {{
            curve.label
          }},
          {{
            moneyUnit(curve.unit)
          }}
        </caption>
        <tbody>
          <tr v-for="(value, i) in curve.values" :key="i">
            <th scope="row">{{ stepDay(curve.first, i, curve.period) }}</th>
            <td>{{ formatAxis(value) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
