<script setup lang="ts">
import type { ECharts, EChartsCoreOption } from "echarts/core";
import { onBeforeUnmount, onMounted, ref, watch } from "vue";
import { init } from "./echarts";

const props = defineProps<{
  option: EChartsCoreOption;
  /** What the chart shows, for those who do not see it. */
  label: string;
}>();

const holder = ref<HTMLElement | null>(null);
let chart: ECharts | null = null;
let observer: ResizeObserver | null = null;

onMounted(() => {
  if (!holder.value) return;
  chart = init(holder.value);
  chart.setOption(props.option);
  observer = new ResizeObserver(() => chart?.resize());
  observer.observe(holder.value);
});
onBeforeUnmount(() => {
  observer?.disconnect();
  chart?.dispose();
});
/** Hundreds of cells that only screen readers see follow when the picture stands. */
const settled = ref(0);
watch(
  () => props.option,
  (option) => {
    chart?.setOption(option, { notMerge: true });
    window.requestIdleCallback(() => (settled.value += 1), { timeout: 500 });
  },
);
</script>

<template>
  <figure class="frame">
    <div ref="holder" class="chart" role="img" :aria-label="label" />
    <figcaption class="small"><slot name="caption" /></figcaption>
    <div v-memo="[settled]" class="unseen"><slot name="table" /></div>
  </figure>
</template>

<style scoped>
.frame {
  position: relative;
  margin: 0;
  display: flex;
  flex-direction: column;
  min-width: 0;
}

.chart {
  flex: 1;
  min-height: 0;
  contain: strict;
}

/* Paper is narrower than the window the canvas was drawn for. */
@media print {
  .chart {
    contain: none;
  }

  .chart :deep(div),
  .chart :deep(canvas) {
    width: 100% !important;
    height: auto !important;
  }
}

figcaption {
  padding-left: 2px;
}
</style>
