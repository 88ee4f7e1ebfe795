<script setup lang="ts">
import type { ECharts, EChartsCoreOption } from "echarts/core";
import { onBeforeUnmount, onMounted, ref, watch } from "vue";
import { init } from "./echarts";

const props = defineProps<{
  option: EChartsCoreOption;
  /** What the chart shows, for those who do not see it. */
  label: string;
  /** Whether its picture and its numbers can be kept as files. */
  kept?: boolean;
}>();

const holder = ref<HTMLElement | null>(null);
const tables = ref<HTMLElement | null>(null);
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

const RISKY = /^[=+\-@\t\r](?![\d.,]*$)/;

/** A cell as CSV has it; text that a spreadsheet would run as a formula gets an apostrophe. */
function cell(text: string): string {
  const harmless = RISKY.test(text) ? `'${text}` : text;
  return /[",\n]/.test(harmless) ? `"${harmless.replaceAll('"', '""')}"` : harmless;
}

/** The numbers behind the chart, from the table that screen readers have. */
function numbers(): string {
  const rows = [...(tables.value?.querySelectorAll("tr, caption") ?? [])].map((row) =>
    row.tagName === "CAPTION"
      ? [row.textContent.replace(/\s+/g, " ").trim()]
      : [...row.querySelectorAll("th, td")].map((one) => one.textContent.trim()),
  );
  return rows.map((row) => row.map(cell).join(",")).join("\r\n");
}

function keep(address: string, ending: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = `${props.label.toLowerCase().replace(/[^\p{L}\d]+/gu, "-")}.${ending}`;
  link.click();
}

function keepPicture(): void {
  const backgroundColor = getComputedStyle(document.documentElement).getPropertyValue("--page");
  keep(chart?.getDataURL({ pixelRatio: 2, backgroundColor: backgroundColor.trim() }) ?? "", "png");
}

function keepNumbers(): void {
  const address = URL.createObjectURL(
    new Blob(["\ufeff", numbers()], { type: "text/csv;charset=utf-8" }),
  );
  keep(address, "csv");
  window.setTimeout(() => URL.revokeObjectURL(address), 1000);
}
</script>

<template>
  <figure class="frame">
    <div ref="holder" class="chart" role="img" :aria-label="label" />
    <figcaption class="small">
      <span><slot name="caption" /></span>
      <span v-if="kept" class="keep">
        <button class="word-button" :aria-label="`PNG of ${label}`" @click="keepPicture">
          PNG
        </button>
        <button class="word-button" :aria-label="`CSV of ${label}`" @click="keepNumbers">
          CSV
        </button>
      </span>
    </figcaption>
    <div ref="tables" v-memo="[settled]" class="unseen"><slot name="table" /></div>
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

.keep {
  display: inline-flex;
  gap: 12px;
  margin-left: 14px;
}

@media print {
  .keep {
    display: none;
  }
}
</style>
