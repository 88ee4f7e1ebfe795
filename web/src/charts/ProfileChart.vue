<script setup lang="ts">
import { computed } from "vue";
import type { MarketSummary, NichePreview, Schemas } from "@/api/client";
import { MONTHS, addDays, formatDay, yearShare } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { band, formatAxis, useStyle } from "./useStyle";
import { strong } from "./tip";

/** The season profile from January to December with its interval, its marks and the moving feasts. */
const props = defineProps<{
  niche: NichePreview;
  market: MarketSummary;
  demand: Schemas["DemandDetail"];
}>();
const style = useStyle();

const profile = computed(() => props.demand.profile);
const slots = computed(() => profile.value?.values.length ?? 52);
const placeOf = (day: string): number => Math.round(yearShare(day) * slots.value * 10) / 10;
const slotNames = computed(() => Array.from({ length: slots.value }, (_, i) => i + 1));
const points = (values: readonly (number | null)[]): [number, number | null][] =>
  values.map((value, i) => [i + 0.5, value]);

/** Slots as runs without a break, from the start of the first to the end of the last. */
function runs(weeks: readonly number[] | null): [number, number][] {
  const sorted = [...(weeks ?? [])].sort((a, b) => a - b);
  const made: [number, number][] = [];
  for (const week of sorted) {
    const last = made.at(-1);
    if (last?.[1] === week - 1) last[1] = week;
    else made.push([week - 1, week]);
  }
  return made;
}
/** The peak windows of a year's seasons: each season once, its parts before and after the turn of the year. */
const peaks = computed(() => {
  const seen = new Map<number, [number, number]>();
  for (const { share, peak_start, peak_end } of props.niche.figures.seasons)
    if (!seen.has(share)) seen.set(share, [placeOf(peak_start), placeOf(addDays(peak_end, 1))]);
  return [...seen.values()].flatMap(([from, to]): [number, number][] =>
    from < to
      ? [[from, to]]
      : [
          [from, slots.value],
          [0, to],
        ],
  );
});

const ROOM = 0.05;
const areas = computed(() => {
  const { t, small } = style.value;
  return [
    { name: "peak", found: peaks.value, colour: t.ochre, opacity: 0.16 },
    { name: "quiet", found: runs(props.niche.figures.quiet_weeks), colour: t.season, opacity: 0.3 },
  ].flatMap(({ name, found, colour, opacity }) =>
    found.map(([from, to]) => [
      // Named at its left, where no feast or date stands on it, and where there is room for the word.
      { name, xAxis: from, itemStyle: { color: colour, opacity },
        label: { ...small, position: "insideTopLeft", show: (to - from) / slots.value > ROOM } },
      { xAxis: to },
    ]),
  );
}); // prettier-ignore

const option = computed(() => {
  const { t, small, dated, tooltip, valueAxis } = style.value;
  const made = profile.value;
  if (!made) return {};
  return {
    animation: false,
    grid: { left: 48, right: 16, top: 32, bottom: 22 },
    xAxis: {
      type: "value",
      min: 0,
      max: slots.value,
      interval: slots.value / 12,
      axisLine: { lineStyle: { color: t.rule } },
      axisTick: { show: false },
      splitLine: { show: false },
      axisLabel: {
        ...small,
        align: "left",
        formatter: (at: number) => MONTHS[Math.round((at / slots.value) * 12)] ?? "",
      },
    },
    yAxis: { ...valueAxis, min: 0, axisLine: { show: false } },
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: (found: { value: [number, number] }[]) => {
        const at = Math.floor(found[0]?.value[0] ?? 0);
        return [
          [
            `${props.niche.period} ${at + 1}: `,
            strong(formatAxis(made.values[at])),
            " times the mean",
          ],
          `90% interval ${formatAxis(made.low[at])} to ${formatAxis(made.high[at])}`,
        ];
      },
    },
    series: [
      ...band(points(made.low), made.high, t.q1, "profile"),
      {
        type: "line",
        data: points(made.values),
        showSymbol: false,
        lineStyle: { color: t.q5, width: 1.6 },
        itemStyle: { color: t.q5 },
        markArea: { silent: true, data: areas.value },
        markLine: {
          silent: true,
          symbol: "none",
          label: { ...dated, formatter: "{b}", position: "end", distance: 2, rotate: 0 },
          lineStyle: { color: t.ochre, width: 1.2 },
          data: [
            { yAxis: 1, name: "", lineStyle: { color: t.ink3, type: "solid", width: 0.8 } },
            {
              name: "as-of",
              xAxis: placeOf(props.market.as_of),
              lineStyle: { color: t.ink, type: "solid" },
              label: { color: t.ink2 },
            },
            {
              name: "arrival",
              xAxis: placeOf(addDays(props.market.planning_date, props.niche.lead_days)),
              lineStyle: { type: [4, 3] },
            },
            ...props.demand.feasts.map((feast, i) => ({
              name: feast.name,
              xAxis: placeOf(feast.day),
              lineStyle: { color: t.ink3, type: [1, 3] },
              // Feasts of one season lie close; every second one is labelled a line lower.
              label: { color: t.ink2, distance: i % 2 ? 12 : 2 },
            })),
          ],
        },
      },
    ],
  };
});
</script>

<template>
  <ChartFrame kept :option="option" :label="`Season profile of ${niche.name}`">
    <template #caption>
      times the year’s mean; band: 90% interval · solid line: as-of; dashed: arrival of goods
      ordered on the planning date; dotted: feasts that move, where they fall next
    </template>
    <template #table>
      <table>
        <caption>
          Season profile, times the mean of the year
        </caption>
        <thead>
          <tr>
            <th scope="col">{{ niche.period }}</th>
            <th scope="col">factor</th>
            <th scope="col">low</th>
            <th scope="col">high</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(name, i) in slotNames" :key="name">
            <th scope="row">{{ name }}</th>
            <td>{{ formatAxis(profile?.values[i]) }}</td>
            <td>{{ formatAxis(profile?.low[i]) }}</td>
            <td>{{ formatAxis(profile?.high[i]) }}</td>
          </tr>
        </tbody>
      </table>
      <table>
        <caption>
          Moving feasts of the coming year
        </caption>
        <tbody>
          <tr v-for="feast in demand.feasts" :key="`${feast.name} ${feast.day}`">
            <th scope="row">{{ feast.name }}</th>
            <td>{{ formatDay(feast.day) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
