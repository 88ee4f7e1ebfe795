<script setup lang="ts">
import type { ECharts, EChartsCoreOption } from "echarts/core";
import { useIntersectionObserver, useResizeObserver } from "@vueuse/core";
import { nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";
import { whenIdle } from "@/ui/whenIdle";
import { init } from "./echarts";
import { withSafeTip } from "./tip";

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
const leave: (() => void)[] = [];

/** To its place's size; an observer tells the first one too, at which it was drawn. */
function fit(): void {
  const { clientWidth, clientHeight } = holder.value ?? {};
  if (clientWidth !== chart?.getWidth() || clientHeight !== chart?.getHeight()) chart?.resize();
}

function draw(): void {
  inView.stop();
  if (chart || !holder.value) return;
  chart = init(holder.value);
  chart.setOption(withSafeTip(props.option));
}

// What is in view is drawn at once, what lies below when there is time for it.
const inView = useIntersectionObserver(holder, (seen) => {
  if (seen.some((one) => one.isIntersecting)) draw();
});
useResizeObserver(holder, fit);

/** How often the numbers behind the picture were made; hundreds of cells that only screen readers and
 *  files see come when the picture stands. */
const settled = ref(0);
const settle = (): void => void (settled.value += 1);

onMounted(() => {
  leave.push(whenIdle(draw), whenIdle(settle));
});
onBeforeUnmount(() => {
  for (const undo of leave) undo();
  chart?.dispose();
});
watch(
  () => props.option,
  (option) => {
    chart?.setOption(withSafeTip(option), { notMerge: true });
    leave.push(whenIdle(settle));
  },
);

const RISKY = /^[=+\-@\t\r\n＝＋－＠](?![\d.,]*$)/;

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
  draw();
  const backgroundColor = getComputedStyle(document.documentElement).getPropertyValue("--page");
  keep(chart?.getDataURL({ pixelRatio: 2, backgroundColor: backgroundColor.trim() }) ?? "", "png");
}

/** The same chart drawn once more as a drawing, for print and for change by hand. */
async function keepDrawing(): Promise<void> {
  draw();
  const [{ SVGRenderer }, { use }] = await Promise.all([
    import("echarts/renderers"),
    import("echarts/core"),
  ]);
  use([SVGRenderer]);
  const [width, height] = [chart?.getWidth() ?? 800, chart?.getHeight() ?? 300];
  const twin = init(null, null, { renderer: "svg", ssr: true, width, height });
  twin.setOption(props.option);
  keepText(twin.renderToSVGString(), "image/svg+xml", "svg");
  twin.dispose();
}

function keepText(text: string, type: string, ending: string): void {
  const address = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }));
  keep(address, ending);
  window.setTimeout(() => URL.revokeObjectURL(address), 1000);
}

async function keepNumbers(): Promise<void> {
  settle();
  await nextTick();
  keepText(`\ufeff${numbers()}`, "text/csv", "csv");
}
</script>

<template>
  <figure class="frame">
    <div ref="holder" class="holder" role="img" :aria-label="label" />
    <figcaption class="small">
      <span><slot name="caption" /></span>
      <span v-if="kept" class="keep">
        <v-btn :aria-label="`PNG of ${label}`" @click="keepPicture"> PNG </v-btn>
        <v-btn :aria-label="`SVG of ${label}`" @click="keepDrawing"> SVG </v-btn>
        <v-btn :aria-label="`CSV of ${label}`" @click="keepNumbers"> CSV </v-btn>
      </span>
    </figcaption>
    <div ref="tables" v-memo="[settled]" class="unseen"><slot v-if="settled" name="table" /></div>
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

.holder {
  flex: 1;
  min-height: 0;
  contain: strict;
}

/* Paper is narrower than the window the canvas was drawn for, and what stood side by side stands below. */
@media print {
  .frame {
    height: auto !important;
    break-inside: avoid;
  }

  .holder {
    contain: none;
  }

  .holder :deep(div),
  .holder :deep(canvas) {
    position: static !important;
    width: auto !important;
    max-width: 100% !important;
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
