<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import { catalogueQueries, type IciclePiece } from "@/api/catalogue";
import type { FigureRow, MarketSummary } from "@/api/client";
import { formatFigure } from "@/format/figure";
import { formatChange, formatCount, formatInterval, formatShare } from "@/format/values";
import SelectField from "@/ui/SelectField.vue";

/** The tree as pieces, each as large as its share of what it lies in, coloured by its drift. */
const props = defineProps<{
  market: MarketSummary;
  figures: FigureRow[];
  chosen: string | undefined;
  /** The category it begins with; empty for all. */
  under: string;
}>();
const emit = defineEmits<{ choose: [id: string]; begin: [id: string] }>();

const SIZES = [
  "searches_52w",
  "impressions_52w",
  "clicks_52w",
  "purchases_52w",
  "sales.units_52w",
  "sales.revenue_52w",
] as const;
type Size = (typeof SIZES)[number];
const size = ref<Size>("searches_52w");
const sized = computed(() => props.figures.find((one) => one.key === size.value));
const sizes = computed(() =>
  SIZES.flatMap((key) => {
    const figure = props.figures.find((one) => one.key === key);
    return figure ? [{ title: figure.label.toLowerCase(), value: key }] : [];
  }),
);
const found = useQuery(
  computed(() => catalogueQueries.icicle(props.market.market_id, size.value, props.under)),
);
const icicle = computed(() => found.data.value);

const holder = ref<HTMLElement | null>(null);
const { width } = useElementSize(holder);
const HEIGHT = 560;
const LINE = 13; // Pixels that a label needs.
const LETTER = 5.9; // Pixels a letter of the small print is wide, on average, amply.
const PAD = 5;
const STRONG = 8; // Percent a year; from here on a drift is called Rising or Easing.

/** What the drift says as far as its interval bears it out. */
function says(one: IciclePiece): string {
  if (one.drift === null || one.low === null || one.high === null) return "unknown";
  if (one.low <= 0 && one.high >= 0) return "level";
  // As it is written: what reads +8% is 8%.
  const strong = Math.round(Math.abs(one.drift) * 100) >= STRONG ? "strong" : "";
  return `${one.drift > 0 ? "rises" : "falls"} ${strong}`.trim();
}
const named = (one: IciclePiece): string =>
  says(one) === "unknown" || says(one) === "level"
    ? one.name
    : `${one.name} ${formatChange(one.drift)}`;
const levels = computed(() => Math.max(0, ...(icicle.value?.pieces ?? []).map((p) => p.depth)) + 1);
const boxes = computed(() => {
  const wide = width.value / levels.value;
  return (icicle.value?.pieces ?? []).map((one) => {
    const high = one.size * HEIGHT;
    const room = Math.floor((wide - 2 * PAD) / LETTER);
    const text = named(one);
    return {
      one,
      x: one.depth * wide,
      y: one.start * HEIGHT,
      wide,
      high,
      label:
        high < LINE || room < 3 ? "" : text.length > room ? `${text.slice(0, room - 1)}…` : text,
    };
  });
});
const told = (one: IciclePiece): string => {
  const value = sized.value ? formatFigure(sized.value, one.value) : formatCount(one.value);
  const drift =
    one.drift === null
      ? "drift unknown"
      : `drift ${formatChange(one.drift)} a year (${formatInterval(one.low, one.high)})`;
  return `${one.name}: ${value}, ${formatShare(one.size)} of what is shown; ${drift}`;
};
/** Into a piece; from the one it begins with to that category at a glance. */
function go(one: IciclePiece): void {
  const inside = icicle.value?.pieces.some(
    (other) =>
      other.depth === one.depth + 1 &&
      other.start >= one.start - 1e-9 &&
      other.start < one.start + one.size - 1e-9,
  );
  if (one.depth === 0 && props.under) emit("choose", one.id);
  else if (inside) emit("begin", one.id);
  else emit("choose", one.id);
}
const first = computed(() => (props.under ? icicle.value?.pieces[0] : undefined));
</script>

<template>
  <section class="chart" aria-label="The tree as an icicle">
    <div class="head">
      <h2 class="serif">The tree by</h2>
      <SelectField v-model="size" label="Sized by" :items="sizes" />
    </div>
    <p class="small">
      each column is one level down; height: share of the figure; colour: drift a year,
      <span class="key rises strong">rises by 8% or more</span>
      <span class="key rises">rises</span>
      <span class="key level">no clear drift</span>
      <span class="key falls">falls</span> <span class="key falls strong">falls by 8% or more</span>
      <span class="key unknown">unknown</span
      ><template v-if="icicle?.small">
        · too small to draw: {{ formatCount(icicle.small) }}</template
      ><template v-if="icicle?.unknown"> · unknown: {{ formatCount(icicle.unknown) }}</template>
    </p>
    <nav v-if="under && icicle" class="small" aria-label="Where the icicle begins">
      <button class="link" @click="emit('begin', '')">All</button>
      <template v-for="one in icicle.above" :key="one.id">
        › <button class="link" @click="emit('begin', one.id)">{{ one.name }}</button></template
      >
      <template v-if="first">
        › {{ first.name }}
        <v-btn class="small" @click="emit('choose', first.id)">At a glance</v-btn></template
      >
    </nav>
    <p v-if="found.error.value" class="serif" role="alert">{{ found.error.value.message }}</p>
    <p v-else-if="icicle && !icicle.pieces.length" class="serif">
      This figure is known of no category here.
    </p>
    <div v-else ref="holder" class="holder">
      <svg v-if="width" :width="width" :height="HEIGHT" role="group" aria-label="Categories">
        <g
          v-for="{ one, x, y, wide, high, label } in boxes"
          :key="one.id"
          class="piece"
          :class="[says(one), { on: one.id === chosen }]"
          role="button"
          tabindex="0"
          :aria-label="told(one)"
          :data-tip="told(one)"
          @click="go(one)"
          @keydown.enter.stop="go(one)"
        >
          <rect :x="x + 0.5" :y="y + 0.5" :width="wide - 1" :height="Math.max(0.5, high - 1)" />
          <text v-if="label" :x="x + PAD" :y="y + Math.min(high / 2, 12) + 4">{{ label }}</text>
          <text v-if="label && high > 2.5 * LINE" class="share" :x="x + PAD" :y="y + 31">
            {{ formatShare(one.size) }}
          </text>
        </g>
      </svg>
    </div>
  </section>
</template>

<style scoped>
.chart {
  padding: 10px var(--gutter) 24px 20px;
}

.head {
  display: flex;
  align-items: baseline;
  gap: 8px;
}

h2 {
  margin: 0;
  font-size: 20px;
}

p {
  margin: 2px 0 6px;
}

nav {
  margin: 0 0 6px;
}

text {
  font: 11px/1 var(--condensed);
  fill: var(--ink);
}

.share {
  fill: var(--ink);
}

.piece {
  cursor: pointer;
  fill: var(--q0);
}

.piece rect {
  stroke: var(--page);
}

.piece.rises {
  fill: var(--q1);
}

.piece.rises.strong {
  fill: var(--q3);
}

.piece.falls rect {
  fill: var(--rust);
  fill-opacity: 0.22;
}

.piece.falls.strong rect {
  fill-opacity: 0.5;
}

.piece.unknown rect {
  fill: none;
  stroke: var(--rule);
  stroke-dasharray: 3 2;
}

.piece.on rect,
.piece:focus-visible rect {
  stroke: var(--ochre);
  stroke-width: 2;
}

.piece:focus {
  outline: none;
}

.key {
  display: inline-block;
  margin: 0 4px 2px 0;
  padding: 1px 5px;
  white-space: nowrap;
  color: var(--ink);
  background: var(--q0);
}

.key.rises {
  background: var(--q1);
}

.key.rises.strong {
  background: var(--q3);
}

.key.falls {
  background: color-mix(in srgb, var(--rust) 22%, transparent);
}

.key.falls.strong {
  background: color-mix(in srgb, var(--rust) 50%, transparent);
}

.key.unknown {
  background: none;
  outline: 1px dashed var(--rule);
  outline-offset: -1px;
}

.link {
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}
</style>
