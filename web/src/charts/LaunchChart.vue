<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatBound, formatDay, UNKNOWN } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { hollow, useStyle } from "./useStyle";

type Launch = Schemas["Launch"];

/** Launches of two years by their day, as high as they sell, the season taken out; each fate a mark of its own. */
const props = defineProps<{
  launches: Launch[];
  bar: number | null;
  unit: string;
  until: string;
}>();
const style = useStyle();

const FATES: Record<Launch["fate"], { symbol: string; label: string }> = {
  worked: { symbol: "triangle", label: "reached the bar" },
  "fell short": { symbol: "triangle", label: "fell short of it" },
  early: { symbol: "circle", label: "too early to judge" },
  stayed: { symbol: "circle", label: "past its first year" },
  gone: { symbol: "path://M0,0 L10,10 M10,0 L0,10", label: "no longer clicked" },
};

const formatAmount = (amount: number | null): string =>
  amount === null ? UNKNOWN : formatBound(amount, "amount");

/** The next round number above a value, clear of it. */
function roundUp(value: number): number {
  const step = 10 ** Math.floor(Math.log10(Math.max(value, 1)));
  return Math.ceil(value / step + 0.1) * step;
}

const option = computed(() => {
  const { t, small, dated, tooltip, timeAxis, valueAxis } = style.value;
  const fates = Object.keys(FATES) as Launch["fate"][];
  return {
    animation: false,
    grid: { left: 48, right: 70, top: 26, bottom: 22 },
    // A fortnight before the first, whose mark would be cut otherwise.
    xAxis: { ...timeAxis, min: ({ min }: { min: number }) => min - 14 * 86_400_000, max: props.until },
    yAxis: {
      ...valueAxis,
      min: 0,
      // The bar is shown also where no launch came near it.
      max: ({ max }: { max: number }) => (props.bar !== null && max < props.bar ? roundUp(props.bar) : null),
      name: `${props.unit} in four average weeks`,
    },
    tooltip: {
      ...tooltip,
      formatter: ({ data }: { data: { launch: Launch } }) =>
        [data.launch.title, `${formatDay(data.launch.launched_on)}: ${FATES[data.launch.fate].label}`, `${formatAmount(data.launch.amount)} ${props.unit}`],
    },
    series: fates.map((fate, i) => ({
      type: "scatter",
      name: fate,
      symbol: FATES[fate].symbol,
      symbolSize: fate === "gone" ? 8 : 11,
      itemStyle:
        fate === "worked"
          ? { color: t.q5 }
          : fate === "stayed"
            ? { color: t.ink3 }
            : hollow(t, fate === "fell short" ? t.rust : t.ink3),
      data: props.launches
        .filter((one) => one.fate === fate)
        .map((launch) => ({ value: [launch.launched_on, launch.amount ?? 0], launch })),
      markLine:
        i || props.bar === null
          ? undefined
          : {
              silent: true,
              symbol: "none",
              lineStyle: { color: t.ochre, type: "solid" },
              label: { ...dated, formatter: `bar ${formatAmount(props.bar)}`, position: "end" },
              data: [{ yAxis: props.bar }],
            },
      label: { show: fate === "worked", ...small, position: "right", formatter: ({ data }: { data: { launch: Launch } }) => formatAmount(data.launch.amount) },
    })),
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" label="Launches of two years and their fate">
    <template #caption
      >▲ reached the bar · △ fell short of it · ○ too early to judge · ● past its first year · × no
      longer clicked<template v-if="launches.some((one) => one.amount === null)">
        · on the axis: sales not known</template
      ></template
    >
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">listing</th>
            <th scope="col">launched</th>
            <th scope="col">fate</th>
            <th scope="col">{{ unit }} in four average weeks</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in launches" :key="one.listing_id">
            <th scope="row">{{ one.title }}</th>
            <td>{{ one.launched_on }}</td>
            <td>{{ FATES[one.fate].label }}</td>
            <td>{{ formatAmount(one.amount) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
