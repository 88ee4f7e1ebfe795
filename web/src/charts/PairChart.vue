<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { sayDay, stepDay } from "@/shared/format";
import ChartFrame from "./ChartFrame.vue";
import { useTokens } from "./useTokens";

type Curve = Schemas["NicheCurve"];

/** Two curves over one another: each on its own axis, or both against their means on one. */
const props = defineProps<{ first: Curve; second: Curve | undefined; indexed: boolean }>();
const tokens = useTokens();

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

const say = (value: number | null): string =>
  value === null
    ? "–"
    : Math.abs(value) >= 100
      ? Math.round(value).toLocaleString("en-GB")
      : String(Number(value.toPrecision(3)));

function nameOf(curve: Curve | undefined): string {
  if (!curve) return "";
  const unit = curve.unit === curve.label.toLowerCase() ? "" : `${curve.unit}, `;
  return `${curve.label}, ${unit}a ${curve.period}`;
}

const option = computed(() => {
  const t = tokens.value;
  const small = { fontFamily: t.condensed, fontSize: 11, color: t.ink3 };
  const axes = props.indexed ? 1 : both.value.length;
  return {
    animation: false,
    grid: { left: 54, right: axes > 1 ? 60 : 20, top: 26, bottom: 22 },
    xAxis: { type: "time", axisLine: { lineStyle: { color: t.rule } }, axisLabel: small, axisTick: { show: false } },
    yAxis: Array.from({ length: axes }, (_, i) => ({
      type: "value",
      scale: !props.indexed && both.value[i]?.key === "price",
      name: props.indexed ? "own mean = 100" : nameOf(both.value[i]),
      nameTextStyle: { ...small, color: i ? t.ochreText : t.q5, align: i ? "right" : "left" },
      axisLabel: { ...small, formatter: say },
      splitLine: { show: i === 0, lineStyle: { color: t.rule } },
    })),
    tooltip: {
      trigger: "axis",
      confine: true,
      backgroundColor: t.page,
      borderColor: t.rule,
      textStyle: { color: t.ink, fontSize: 12 },
      formatter: (points: { value: [string, number | null]; seriesName: string }[]) =>
        [
          sayDay(points[0]?.value[0] ?? ""),
          ...points.map((p) => `${p.seriesName} <b>${say(p.value[1])}</b>`),
        ].join("<br>"),
    },
    series: both.value.map((curve, i) => ({
      type: "line",
      name: curve.label,
      yAxisIndex: axes > 1 ? i : 0,
      data: scaled.value[i],
      showSymbol: false,
      connectNulls: false,
      lineStyle: i ? { color: t.ochre, width: 1.5, type: [6, 3] } : { color: t.q5, width: 1.6 },
      itemStyle: { color: i ? t.ochre : t.q5 },
    })),
  };
}); // prettier-ignore

const label = computed(() => both.value.map((one) => one.label).join(" and "));
</script>

<template>
  <ChartFrame kept :option="option" :label="`${label} over time`">
    <template #caption
      >{{ first.label }}: whole line<template v-if="second"
        >; {{ second.label }}: dashed</template
      ></template
    >
    <template #table>
      <table v-for="curve in both" :key="curve.key">
        <caption>
          {{
            curve.label
          }},
          {{
            curve.unit
          }}
        </caption>
        <tbody>
          <tr v-for="(value, i) in curve.values" :key="i">
            <th scope="row">{{ stepDay(curve.first, i, curve.period) }}</th>
            <td>{{ say(value) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
