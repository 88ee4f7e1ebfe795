<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatCount } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { hollow, formatPercent, useStyle } from "./useStyle";
import { strong } from "./tip";

type Term = Schemas["TermDetail"];

/** Terms by how much they are searched and how often they lead to a purchase. */
const props = defineProps<{ terms: Term[]; usual: number | null }>();
const style = useStyle();

const known = computed(() =>
  props.terms.filter((one) => (one.searches_52w ?? 0) > 0 && one.purchase_rate !== null),
);

const option = computed(() => {
  const { t, small, dated, tooltip, valueAxis } = style.value;
  return {
    animation: false,
    grid: { left: 20, right: 90, top: 26, bottom: 34, containLabel: true },
    xAxis: {
      ...valueAxis,
      type: "log",
      name: "searches a year",
      nameLocation: "middle",
      nameGap: 24,
      nameTextStyle: small,
      min: "dataMin",
      splitLine: { show: false },
      minorTick: { show: false },
    },
    yAxis: {
      ...valueAxis,
      name: "purchases a search",
      min: 0,
      axisLabel: { ...small, formatter: formatPercent },
    },
    tooltip: {
      ...tooltip,
      formatter: ({ data }: { data: { term: Term } }) => {
        const { term, searches_52w, purchase_rate, rate_low, rate_high } = data.term;
        return [term, `${formatCount(searches_52w)} searches a year`, ["purchase rate ", strong(formatPercent(purchase_rate ?? 0)), `, 90% interval ${formatPercent(rate_low ?? 0)} to ${formatPercent(rate_high ?? 0)}`]];
      },
    },
    series: [
      {
        type: "custom",
        silent: true,
        encode: { x: 0, y: [1, 2] },
        data: known.value.map((one) => [one.searches_52w, one.rate_low, one.rate_high]),
        renderItem: (_: unknown, api: { value: (i: number) => number; coord: (at: number[]) => number[] }) => {
          const [x, low] = api.coord([api.value(0), api.value(1)]);
          const [, high] = api.coord([api.value(0), api.value(2)]);
          return { type: "line", shape: { x1: x, x2: x, y1: low, y2: high }, style: { stroke: t.q3, lineWidth: 1.2 } };
        },
      },
      {
        // Names stand below the points, so that none is hidden by its neighbour's name.
        type: "scatter",
        z: 2,
        silent: true,
        symbolSize: 9,
        itemStyle: { color: "transparent", opacity: 1 },
        data: known.value.map((term) => ({ value: [term.searches_52w, term.purchase_rate], term })),
        label: {
          show: true,
          ...small,
          color: t.ink2,
          // Lines do not run through it.
          backgroundColor: t.paper,
          padding: [0, 2],
          position: "right",
          formatter: ({ data }: { data: { term: Term } }) => data.term.term,
        },
        labelLayout: { hideOverlap: true },
      },
      {
        type: "scatter",
        z: 3,
        symbolSize: 9,
        data: known.value.map((term) => ({
          value: [term.searches_52w, term.purchase_rate],
          term,
          itemStyle: term.unserved ? hollow(t, t.ochre, 2) : { color: t.q5 },
        })),
        markLine:
          props.usual === null
            ? undefined
            : {
                silent: true,
                symbol: "none",
                precision: -1, // Two digits, the library's own, would move a rate by half a percent.
                z: 1, // Below the terms, whose names it would strike through.
                lineStyle: { color: t.ochre, type: "solid", width: 1 },
                label: {
                  ...dated,
                  formatter: `the niche ${formatPercent(props.usual)}`,
                  position: "insideEndBottom",
                  distance: [0, 7],
                },
                data: [{ yAxis: props.usual }],
              },
      },
    ],
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" label="Searches of the terms against their purchase rate">
    <template #caption
      >line: 90% interval; hollow: searched much, with a purchase rate clearly below the
      niche’s</template
    >
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">term</th>
            <th scope="col">searches a year</th>
            <th scope="col">purchases a search</th>
            <th scope="col">low</th>
            <th scope="col">high</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in known" :key="one.term">
            <th scope="row">{{ one.term }}</th>
            <td>{{ formatCount(one.searches_52w) }}</td>
            <td>{{ formatPercent(one.purchase_rate ?? 0) }}</td>
            <td>{{ formatPercent(one.rate_low ?? 0) }}</td>
            <td>{{ formatPercent(one.rate_high ?? 0) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
