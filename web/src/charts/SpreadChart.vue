<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatShare } from "@/format/values";
import ChartFrame from "./ChartFrame.vue";
import "./more";
import { formatAxis, useStyle } from "./useStyle";
import { strong } from "./tip";

/** How a fact is spread over the listings: how many of them, and how much of the clicks. */
const props = defineProps<{ spread: Schemas["FactSpread"]; fact: string; unit: string }>();
const style = useStyle();

const bins = computed(() =>
  props.spread.listings.map((count, i) => {
    const [from, to] = [props.spread.edges[i] ?? 0, props.spread.edges[i + 1] ?? 0];
    const clicks = props.spread.clicks[i] ?? 0;
    return { from, to, count, clicks, name: `${formatAxis(from)} to ${formatAxis(to)}` };
  }),
);

const option = computed(() => {
  const { t, small, tooltip } = style.value;
  const all = props.spread.listings.reduce((sum, one) => sum + one, 0);
  const bar = { type: "bar", barGap: "-100%", barCategoryGap: "12%", silent: true };
  return {
    animation: false,
    grid: { left: 4, right: 10, top: 18, bottom: 20 },
    xAxis: {
      type: "category",
      data: bins.value.map((bin) => formatAxis(bin.from)),
      axisLine: { lineStyle: { color: t.rule } },
      axisTick: { show: false },
      axisLabel: { ...small, align: "left", hideOverlap: true },
    },
    yAxis: { type: "value", show: false, min: 0 },
    tooltip: {
      ...tooltip,
      trigger: "axis",
      formatter: ([first]: { dataIndex: number }[]) => {
        const bin = bins.value[first?.dataIndex ?? 0];
        return bin ? [`${bin.name} ${props.unit}`, [strong(String(bin.count)), ` listings, ${formatShare(bin.clicks)} of the clicks`]] : [];
      },
    },
    series: [
      { ...bar, data: bins.value.map((bin) => bin.clicks), itemStyle: { color: t.q3 } },
      {
        ...bar,
        data: bins.value.map((bin) => (all ? bin.count / all : 0)),
        itemStyle: { color: "transparent", borderColor: t.ink2, borderWidth: 1 },
        label: {
          show: true,
          ...small,
          position: "top",
          formatter: ({ dataIndex }: { dataIndex: number }) => String(bins.value[dataIndex]?.count || ""),
        },
      },
    ],
  };
}); // prettier-ignore
</script>

<template>
  <ChartFrame kept :option="option" :label="`${fact} of the listings`">
    <template #caption
      >{{ fact }}{{ unit ? `, ${unit}` : ""
      }}<template v-if="spread.unknown"> · unknown of {{ spread.unknown }}</template></template
    >
    <template #table>
      <table>
        <thead>
          <tr>
            <th scope="col">{{ fact }}, {{ unit }}</th>
            <th scope="col">listings</th>
            <th scope="col">share of the clicks</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="bin in bins" :key="bin.from">
            <th scope="row">{{ bin.name }}</th>
            <td>{{ bin.count }}</td>
            <td>{{ formatShare(bin.clicks) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </ChartFrame>
</template>
