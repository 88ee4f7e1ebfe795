<script setup lang="ts">
import type { CustomSeriesRenderItem, ECharts } from "echarts";
import { CustomChart, LineChart, ScatterChart } from "echarts/charts";
import { BrushComponent, DataZoomInsideComponent, GridComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { LabelLayout } from "echarts/features";
import { CanvasRenderer } from "echarts/renderers";
import { useResizeObserver } from "@vueuse/core";
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from "vue";
import { SHAPE_PATHS } from "@/marks/shapePaths";
import { formatCount } from "@/format/values";
import {
  binPoints,
  headroomLines,
  inView,
  MAX_POINTS,
  type Points,
  radius,
  simplified,
  TOP,
  type View,
  wholeOf,
} from "./fieldPoints";
import { useTokens } from "./useTokens";
import { howMany, useKind } from "@/state/useKind";

use([
  CustomChart,
  LineChart,
  ScatterChart,
  BrushComponent,
  DataZoomInsideComponent,
  GridComponent,
  LabelLayout,
  CanvasRenderer,
]);

/** A ledger's rows: competition across, demand up; a point a row, or a cell where they crowd. */
const props = defineProps<{ points: Points; selected: string | undefined; drawing: boolean }>();
const emit = defineEmits<{
  select: [niche: string];
  hover: [niche: string | undefined, x: number, y: number];
  /** Corners of an area that was drawn, as (competition, demand). */
  drawn: [corners: [number, number][]];
}>();
const kind = useKind();

const CELL = 13; // Pixels a cell is wide and high.
const LABELLED = 30; // Points of the ledger's order that may carry their names.

const tokens = useTokens();
const holder = ref<HTMLElement | null>(null);
const chart = shallowRef<ECharts | null>(null);
const size = ref({ width: 900, height: 400 });

/** What shows every point, with a little room round them. */
const whole = computed<View>(() => wholeOf(props.points));
const lowest = computed(() => whole.value.up[0]);
const view = ref<View>(whole.value);
watch(whole, (now) => (view.value = now));

const seen = computed(() => inView(props.points, view.value));
const dense = computed(() => seen.value.length > MAX_POINTS);
const mostRevenue = computed(() => {
  const known = props.points.revenue.filter((one) => !Number.isNaN(one)).sort();
  // The largest few would make all others specks.
  return known[Math.floor(known.length * 0.98)] ?? 0;
});

const drawPoint: CustomSeriesRenderItem = (params, api) => {
  const i = seen.value[params.dataIndex] ?? 0;
  const { points } = props;
  const t = tokens.value;
  const [x = 0, y = 0] = api.coord([points.competition[i] ?? 0, points.demand[i] ?? 1]);
  const r = radius(points.revenue[i], mostRevenue.value);
  const niche = points.ids[i] ?? "";
  const chosen = niche === props.selected;
  const decision = points.decisions[niche];
  const shape = points.shapes[points.shape[i] ?? -1] as keyof typeof SHAPE_PATHS | undefined;
  return {
    type: "group",
    x,
    y,
    children: [
      {
        type: "circle",
        shape: { r },
        style: {
          fill: decision === "pass" ? t.paper : t.q1,
          opacity: 0.85,
          stroke: chosen || decision === "keep" || decision === "park" ? t.ochre : t.q3,
          lineWidth: chosen ? 3 : decision === "keep" ? 2 : 1,
          lineDash: decision === "park" ? [3, 2] : undefined,
        },
      },
      {
        type: "path",
        // Scaled as a whole: stretched to a frame, a flat line is none and a gentle wave a steep one.
        shape: { pathData: shape ? SHAPE_PATHS[shape] : "M8 6.5h2" },
        x: -6,
        y: -4.3,
        scaleX: 2 / 3,
        scaleY: 2 / 3,
        style: { fill: "none", stroke: t.q6, lineWidth: 1.3, strokeNoScale: true },
        silent: true,
      },
    ],
  };
}; // prettier-ignore

const bins = computed(() =>
  dense.value
    ? binPoints(
        props.points,
        seen.value,
        view.value,
        Math.max(8, Math.round(size.value.width / CELL)),
        Math.max(8, Math.round(size.value.height / CELL)),
      )
    : [],
);

const fullest = computed(() => bins.value.reduce((most, one) => Math.max(most, one.count), 1));

const drawBin: CustomSeriesRenderItem = (params, api) => {
  const bin = bins.value[params.dataIndex];
  if (!bin) return null;
  const [left = 0, top = 0] = api.coord([bin.across[0], bin.up[1]]);
  const [right = 0, bottom = 0] = api.coord([bin.across[1], bin.up[0]]);
  const t = tokens.value;
  const steps = [t.q1, t.q2, t.q3, t.q4, t.q5, t.q6];
  const step = Math.floor((Math.log(bin.count) / Math.log(fullest.value + 1)) * steps.length);
  return {
    type: "rect",
    shape: { x: left, y: top, width: right - left - 1, height: bottom - top - 1 },
    style: { fill: steps[Math.min(step, steps.length - 1)] },
  };
};

const lines = computed(() => headroomLines(props.points.balance, lowest.value));
const labelled = computed(() =>
  dense.value
    ? []
    : seen.value
        .filter((i) => i < Math.min(LABELLED, props.points.names.length))
        .map((i) => ({
          name: props.points.names[i],
          value: [props.points.competition[i], props.points.demand[i]],
          label: { distance: radius(props.points.revenue[i], mostRevenue.value) + 3 },
        })),
);

const option = computed(() => {
  const t = tokens.value;
  const small = { fontFamily: t.condensed, fontSize: 11, color: t.ink3 };
  const axis = {
    axisLine: { lineStyle: { color: t.rule } },
    axisTick: { show: false },
    splitLine: { show: false },
    axisLabel: small,
    nameLocation: "middle",
    nameTextStyle: { ...small, color: t.ink2 },
  };
  return {
    animation: false,
    grid: { left: 54, right: 92, top: 14, bottom: 40 },
    xAxis: { type: "value", min: whole.value.across[0], max: whole.value.across[1], name: "competition, 0–100 →", nameGap: 24, ...axis,
      axisLabel: { ...small, formatter: (value: number) => String(Math.round(value)) } },
    yAxis: { type: "log", logBase: lowest.value < 1 ? 10 : 2, min: lowest.value, max: TOP, name: "demand, 0–100, log →", nameGap: 34, ...axis,
      axisLabel: { ...small, formatter: (value: number) => (value > 100 ? "" : value < 1 ? value.toFixed(1) : formatCount(value)) } },
    dataZoom: [
      { type: "inside", xAxisIndex: 0, filterMode: "none" },
      { type: "inside", yAxisIndex: 0, filterMode: "none" },
    ],
    brush: {
      z: 100,
      xAxisIndex: 0,
      brushMode: "single",
      brushStyle: { color: t.ochre, opacity: 0.15, borderColor: t.ochre, borderWidth: 1.5 },
      outOfBrush: { colorAlpha: 1 },
    },
    series: [
      ...lines.value.map(({ line }) => ({
        type: "line",
        silent: true,
        showSymbol: false,
        clip: true,
        data: line,
        lineStyle: { color: t.rule, width: 1, type: [5, 3] },
      })),
      {
        // Named where the lines begin, on the side of little competition, which is seldom crowded.
        type: "scatter",
        silent: true,
        symbolSize: 0,
        data: lines.value.map(({ level, line }) => ({ name: `headroom ${level}`, value: line.find(([x]) => x >= whole.value.across[0]) ?? line[0] })),
        label: { show: true, formatter: "{b}", position: [4, -13], ...small },
      },
      dense.value
        ? { type: "custom", id: "bins", renderItem: drawBin, clip: true, data: bins.value.map((bin) => [bin.across[0], bin.up[0]]) }
        : { type: "custom", id: "points", renderItem: drawPoint, clip: true, data: seen.value.map((i) => [props.points.competition[i], props.points.demand[i]]) },
      {
        type: "scatter",
        silent: true,
        symbolSize: 0,
        data: labelled.value,
        labelLayout: { hideOverlap: true },
        label: {
          show: true,
          position: "right",
          formatter: "{b}",
          fontFamily: t.condensed,
          fontSize: 12,
          color: t.ink,
          textBorderColor: t.paper,
          textBorderWidth: 3,
        },
      },
    ],
  };
}); // prettier-ignore

function look(): void {
  const at = chart.value;
  if (!at) return;
  const corner = (x: number, y: number): number[] => at.convertFromPixel({ gridIndex: 0 }, [x, y]);
  const { width, height } = size.value;
  const [left = 0, top = TOP] = corner(54, 14);
  const [right = 100, bottom = lowest.value] = corner(width - 92, height - 40);
  view.value = { across: [left, right], up: [Math.max(bottom, 1e-3), top] };
}

function measure(): void {
  const at = chart.value;
  if (at) size.value = { width: at.getWidth(), height: at.getHeight() };
}
useResizeObserver(holder, () => {
  chart.value?.resize();
  measure();
});
onMounted(() => {
  if (!holder.value) return;
  const made = init(holder.value) as unknown as ECharts;
  chart.value = made;
  measure();
  made.setOption(option.value);
  made.on("datazoom", look);
  made.on("click", (event) => {
    const { seriesId, dataIndex } = event as unknown as { seriesId?: string; dataIndex: number };
    const niche = props.points.ids[seen.value[dataIndex] ?? -1];
    if (seriesId === "points" && niche) emit("select", niche);
  });
  made.on("mouseover", (event) => {
    const { seriesId, dataIndex, event: mouse } = event as unknown as {
      seriesId?: string;
      dataIndex: number;
      event?: { offsetX: number; offsetY: number };
    };
    if (seriesId === "points")
      emit("hover", props.points.ids[seen.value[dataIndex] ?? -1], mouse?.offsetX ?? 0, mouse?.offsetY ?? 0);
  });
  made.on("mouseout", () => emit("hover", undefined, 0, 0));
  made.on("brushEnd", (event) => {
    const [area] = (event as unknown as { areas: { range: [number, number][] }[] }).areas;
    made.dispatchAction({ type: "brush", areas: [] });
    if (!area || area.range.length < 3) return;
    const corners = simplified(area.range).map((pixel) => {
      const [x = 0, y = 0] = made.convertFromPixel({ gridIndex: 0 }, pixel);
      const within = (value: number, least: number): number =>
        Number(Math.min(100, Math.max(least, value)).toFixed(1));
      return [within(x, 0), within(y, 0.1)] as [number, number];
    });
    emit("drawn", corners);
  });
}); // prettier-ignore
onBeforeUnmount(() => chart.value?.dispose());
watch(option, (now) => chart.value?.setOption(now, { replaceMerge: ["series"] }));
watch(
  () => props.selected,
  () => chart.value?.setOption(option.value, { replaceMerge: ["series"] }),
);
watch(
  [() => props.drawing, chart],
  ([on]) =>
    chart.value?.dispatchAction({
      type: "takeGlobalCursor",
      key: "brush",
      brushOption: { brushType: on ? "polygon" : false, brushMode: "single" },
    }),
  { flush: "post" },
);

/** Shows the whole again. */
function reset(): void {
  for (const dataZoomIndex of [0, 1])
    chart.value?.dispatchAction({ type: "dataZoom", dataZoomIndex, start: 0, end: 100 });
}

const zoomed = computed(() => {
  const [all, seenNow] = [whole.value.across, view.value.across];
  return seenNow[1] - seenNow[0] < (all[1] - all[0]) * 0.99;
});
defineExpose({ reset, zoomed, dense });
</script>

<template>
  <figure class="frame">
    <div
      ref="holder"
      class="chart"
      role="img"
      :aria-label="`${howMany(kind, points.ids.length)} by competition and demand; the ledger lists the same`"
    />
    <table class="unseen">
      <caption>
        The first
        {{
          kind.many
        }}
        of the chart
      </caption>
      <thead>
        <tr>
          <th scope="col">{{ kind.one }}</th>
          <th scope="col">competition</th>
          <th scope="col">demand</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(name, i) in points.names.slice(0, 50)" :key="points.ids[i]">
          <th scope="row">{{ name }}</th>
          <td>{{ formatCount(points.competition[i]) }}</td>
          <td>{{ formatCount(points.demand[i]) }}</td>
        </tr>
      </tbody>
    </table>
  </figure>
</template>

<style scoped>
.frame {
  position: relative;
  margin: 0;
  display: flex;
  min-width: 0;
  min-height: 0;
  flex: 1;
}

.chart {
  flex: 1;
  min-height: 0;
}
</style>
