<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import type { MarketSummary, Schemas } from "@/api/client";
import { catalogueQueries, type CategoryPoint } from "@/api/catalogue";
import { placeLabels } from "@/charts/placeLabels";
import { formatMoney } from "@/format/money";
import { formatCount } from "@/format/values";
import { SHAPE_PATHS } from "@/marks/shapePaths";

/** Openness against settledness: as large as the revenue, marked by the shape of the year. */
const props = defineProps<{ market: MarketSummary; chosen: string | undefined; lens: string }>();
const emit = defineEmits<{ choose: [id: string] }>();

const found = useQuery(computed(() => catalogueQueries.points(props.market.market_id, props.lens)));
const holder = ref<HTMLElement | null>(null);
const { width } = useElementSize(holder);
const HEIGHT = 520;
const SIDE = { left: 34, right: 12, top: 14, bottom: 34 };
const LARGEST = 19;
const SMALLEST = 9; // A mark of the shape must fit in.
const LETTER = 5.7; // Pixels a letter of the small print is wide, on average, amply.
const LINE = 14;

const across = (value: number): number =>
  SIDE.left + (value / 100) * Math.max(0, width.value - SIDE.left - SIDE.right);
const up = (value: number): number =>
  HEIGHT - SIDE.bottom - (value / 100) * (HEIGHT - SIDE.top - SIDE.bottom);

const points = computed(() => found.data.value?.points ?? []);
const most = computed(() => Math.max(1, ...points.value.map((one) => one.revenue ?? 0)));
const marks = computed(() =>
  points.value.map((one) => ({
    one,
    x: across(one.settledness),
    y: up(one.openness),
    radius: Math.max(SMALLEST, Math.sqrt((one.revenue ?? 0) / most.value) * LARGEST),
    width: one.name.length * LETTER,
  })),
);
const labels = computed(() =>
  placeLabels(marks.value, LINE, { width: width.value, height: HEIGHT - SIDE.bottom }),
);
const path = (one: CategoryPoint): string =>
  one.shape ? SHAPE_PATHS[one.shape as Schemas["Shape"]] : "";
const told = (one: CategoryPoint): string =>
  `${one.name}${one.above ? `, ${one.above}` : ""}: openness ${formatCount(one.openness)}, settledness ${formatCount(one.settledness)}, revenue ${formatMoney(one.revenue)} a year${one.shape ? `, ${one.shape}` : ""}`;
const TICKS = [0, 25, 50, 75, 100];
const unknown = computed(() =>
  found.data.value ? found.data.value.total - found.data.value.known : 0,
);
</script>

<template>
  <section class="chart" aria-label="Openness against settledness">
    <h2 class="serif">Open against settled</h2>
    <p class="small">
      up: <span v-explain="'openness'">openness</span>, how easily newcomers have got in · across:
      <span v-explain="'settledness'">settledness</span>, how old and entrenched what sells is ·
      size: revenue a year · mark: the shape of the year<template v-if="unknown">
        · unknown of {{ formatCount(unknown) }}</template
      >
    </p>
    <p v-if="found.data.value && !points.length" class="serif">
      Of no category are both known: they need listings with their launch, units and reviews.
    </p>
    <div v-else ref="holder" class="holder">
      <svg v-if="width" :width="width" :height="HEIGHT" role="group" aria-label="Categories">
        <g class="grid" aria-hidden="true">
          <template v-for="tick in TICKS" :key="tick">
            <path :d="`M${SIDE.left} ${up(tick)}H${width - SIDE.right}`" />
            <path :d="`M${across(tick)} ${SIDE.top}V${HEIGHT - SIDE.bottom}`" />
            <text :x="SIDE.left - 6" :y="up(tick) + 4" text-anchor="end">{{ tick }}</text>
            <text :x="across(tick)" :y="HEIGHT - SIDE.bottom + 14" text-anchor="middle">
              {{ tick }}
            </text>
          </template>
          <text :x="width - SIDE.right" :y="HEIGHT - 4" text-anchor="end">settledness →</text>
          <text :x="SIDE.left" :y="10">openness ↑</text>
        </g>
        <g
          v-for="({ one, x, y, radius }, i) in marks"
          :key="one.id"
          class="point"
          :class="{ on: one.id === chosen }"
          role="button"
          tabindex="0"
          :aria-label="told(one)"
          :data-tip="told(one)"
          @click="emit('choose', one.id)"
          @keydown.enter.stop="emit('choose', one.id)"
        >
          <circle :cx="x" :cy="y" :r="radius" />
          <path
            v-if="one.shape"
            :d="path(one)"
            :transform="`translate(${x - 6.3} ${y - 4.5}) scale(0.7)`"
          />
          <text
            v-if="labels[i]"
            :x="labels[i]?.x"
            :y="labels[i]?.y"
            :text-anchor="labels[i]?.anchor"
          >
            {{ one.name }}
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

h2 {
  margin: 0;
  font-size: 20px;
}

p {
  max-width: 76ch;
  margin: 2px 0 6px;
}

.grid path {
  stroke: var(--rule);
}

text {
  font: 11px/1 var(--condensed);
  fill: var(--ink2);
}

.point {
  cursor: pointer;
}

.point circle {
  fill: var(--page);
  fill-opacity: 0.7;
  stroke: var(--q4);
  stroke-width: 1.4;
}

.point path {
  fill: none;
  stroke: var(--q6);
  stroke-width: 1.8;
  stroke-linejoin: round;
}

.point.on circle {
  stroke: var(--ochre);
  stroke-width: 2.4;
}

.point:hover text,
.point.on text {
  fill: var(--ink);
  font-weight: 600;
}
</style>
