<script setup lang="ts">
import { computed } from "vue";
import type { CurveOfRow } from "./curvePreview";
import { formatCount, formatDay, stepDay } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import { endLabelShifts } from "./endLabels";
import { useTokens } from "./useTokens";
import { strong } from "./tip";
import { useKind } from "@/state/useKind";

/** Curves of several rows on one pair of axes, as they are or each against its own mean. */
const { curve } = useKind();
const props = defineProps<{ rows: CurveOfRow[]; indexed: boolean }>();
const tokens = useTokens();

/** Lines are told apart by dashes and their names, not by colour alone. */
const LINES = [
  { colour: "q6", type: "solid", width: 1.9 },
  { colour: "ochre", type: "solid", width: 1.5 },
  { colour: "q4", type: [6, 3], width: 1.6 },
  { colour: "ink3", type: [2, 2], width: 1.5 },
  { colour: "q3", type: "solid", width: 1.3 },
  { colour: "ink", type: [8, 3, 2, 3], width: 1.2 },
] as const;

const curves = computed(() =>
  props.rows.map((row) => {
    const known = row.values.filter((value) => value !== null);
    const mean = known.reduce((sum, value) => sum + value, 0) / Math.max(known.length, 1);
    const scale = props.indexed && mean > 0 ? 100 / mean : 1;
    return {
      name: row.name,
      points: row.values.map((value, i) => [
        stepDay(row.first, i, row.period),
        value === null ? null : value * scale,
      ]),
    };
  }),
);
const unit = computed(() =>
  props.indexed ? "own mean = 100" : `${curve} a ${props.rows[0]?.period ?? "week"}`,
);

/** Totals by calendar year. */
function yearly(row: CurveOfRow): [string, number][] {
  const sums = new Map<string, number>();
  row.values.forEach((value, i) => {
    const year = stepDay(row.first, i, row.period).slice(0, 4);
    if (value !== null) sums.set(year, (sums.get(year) ?? 0) + value);
  });
  return [...sums];
}

const BESIDE = 10; // Pixels from the end of a curve to its name.
const LETTER = 6.2; // Pixels a letter of the small print is wide, amply.
/** Pixels that the longest name takes, cut off where it is very long. */
const names = computed(() =>
  Math.min(180, Math.max(...props.rows.map((row) => row.name.length), 1) * LETTER),
);
const HEIGHT = 170; // Pixels of the axis, about.
/** Names at the ends of curves lie beside one another, whatever the curves do. */
const shifts = computed(() => {
  const values = curves.value.map(({ points }) =>
    points.map(([, value]) => value).filter((value) => typeof value === "number"),
  );
  const top = Math.max(0, ...values.flat());
  return endLabelShifts(values.map((one) => one.at(-1)), top, HEIGHT);
}); // prettier-ignore

const option = computed(() => {
  const t = tokens.value;
  const small = { fontFamily: t.condensed, fontSize: 11, color: t.ink3 };
  return {
    animation: false,
    grid: { left: 52, right: names.value + BESIDE, top: 12, bottom: 22 },
    xAxis: { type: "time", axisLine: { lineStyle: { color: t.rule } }, axisLabel: { ...small, hideOverlap: true }, axisTick: { show: false } },
    yAxis: { type: "value", min: 0, axisLabel: small, splitLine: { lineStyle: { color: t.rule } } },
    tooltip: {
      trigger: "axis",
      confine: true,
      backgroundColor: t.page,
      borderColor: t.rule,
      textStyle: { color: t.ink, fontSize: 12 },
      formatter: (points: { value: [string, number | null]; seriesName: string }[]) =>
        [
          formatDay(points[0]?.value[0] ?? ""),
          ...points.map((p) => [`${p.seriesName} `, strong(formatCount(p.value[1]))]),
        ],
    },
    series: curves.value.map((curve, i) => {
      const { colour, type, width } = LINES[i % LINES.length] ?? LINES[0];
      return {
        type: "line",
        name: curve.name,
        data: curve.points,
        showSymbol: false,
        lineStyle: { color: t[colour], type, width },
        itemStyle: { color: t[colour] },
        endLabel: { show: true, offset: [0, shifts.value[i] ?? 0], formatter: "{a}", ...small, color: t.ink, padding: [2, 0], width: names.value, overflow: "truncate" },
      };
    }),
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" :label="`Curves of ${rows.map((one) => one.name).join(', ')}`">
    <template #caption>{{ unit }}</template>
    <template #table>
      <table>
        <caption>
          Searches a year
        </caption>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <th scope="row">{{ row.name }}</th>
            <td v-for="[year, sum] in yearly(row)" :key="year">
              {{ year }}: {{ formatCount(sum) }}
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
