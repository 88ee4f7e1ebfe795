<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { useTimeoutFn } from "@vueuse/core";
import { computed, defineAsyncComponent, ref } from "vue";
import type { ApiError, MarketSummary } from "@/api/client";
import { ledgerQueries, type RowsQuery } from "@/api/ledger";
import { usePreview } from "@/state/usePreview";
import ShapeMark from "@/marks/ShapeMark.vue";
import { SHAPE_PATHS } from "@/marks/shapePaths";
import YearStrip from "@/marks/YearStrip.vue";
import { addDays, formatCount, yearShare } from "@/format/values";

/** The ledger’s rows as a chart: pointed at, chosen, zoomed into, and an area of it as a condition. */
const props = defineProps<{
  ask: RowsQuery;
  market: MarketSummary | undefined;
  selected: string | undefined;
}>();
const emit = defineEmits<{ select: [niche: string]; add: [condition: string] }>();

const FieldChart = defineAsyncComponent(() => import("@/charts/FieldChart.vue"));
const REST = 60; // Milliseconds.
const SHAPES = Object.keys(SHAPE_PATHS) as (keyof typeof SHAPE_PATHS)[];

const points = useQuery(computed(() => ledgerQueries.points(props.ask)));
const chart = ref<{ reset: () => void; zoomed: boolean; dense: boolean } | null>(null);
const drawing = ref(false);
const hovered = ref<{ niche: string; x: number; y: number } | null>(null);
const shown = usePreview(
  () => props.market?.market_id,
  () => hovered.value?.niche,
);
const card = computed(() =>
  shown.data.value?.id === hovered.value?.niche ? shown.data.value : undefined,
);

const come = useTimeoutFn(
  (at: { niche: string; x: number; y: number }) => (hovered.value = at),
  REST,
  { immediate: false },
);
/** What is pointed at comes up after a moment's rest, so that crossing the chart asks for nothing. */
function hover(niche: string | undefined, x: number, y: number): void {
  come.stop();
  if (niche) come.start({ niche, x, y });
  else hovered.value = null;
}

function draw(corners: [number, number][]): void {
  drawing.value = false;
  emit("add", `drawn ${corners.map(([x, y]) => `${x}:${y}`).join(" ")}`);
}

/** The niches by id in the chart's order, to walk them. */
defineExpose({
  next: (steps: number): string | undefined => {
    const ids = points.data.value?.ids ?? [];
    const at = Math.max(0, ids.indexOf(props.selected ?? "") + steps);
    return ids[Math.min(ids.length - 1, at)];
  },
  draw: () => (drawing.value = !drawing.value),
});
</script>

<template>
  <section class="pane" aria-label="Chart">
    <p v-if="points.error.value" class="wrong">{{ (points.error.value as ApiError).message }}</p>
    <template v-else-if="points.data.value">
      <p class="legend small">
        <span v-for="shape in SHAPES" :key="shape"><ShapeMark :shape="shape" /> {{ shape }}</span>
        <span>size: revenue a year</span>
        <span>ochre ring: kept, dashed: parked</span>
        <span v-if="chart?.dense">cells: how many, pale to deep; zoom in for points</span>
        <span v-if="points.data.value.unknown">
          {{ formatCount(points.data.value.unknown) }} without known competition are not drawn
        </span>
        <span class="acts">
          <v-btn :aria-pressed="drawing" @click="drawing = !drawing">
            {{ drawing ? "Draw round some niches …" : "Draw an area" }}
          </v-btn>
          <v-btn v-if="chart?.zoomed" @click="chart.reset()"> Show the whole </v-btn>
        </span>
      </p>
      <FieldChart
        ref="chart"
        :points="points.data.value"
        :selected="selected"
        :drawing="drawing"
        @select="emit('select', $event)"
        @hover="hover"
        @drawn="draw"
      />
      <div
        v-if="hovered && card && market"
        class="card"
        :style="{
          left: `${Math.min(hovered.x + 16, 900)}px`,
          top: `${Math.max(hovered.y - 20, 0)}px`,
        }"
        role="tooltip"
      >
        <b class="serif">{{ card.name }}</b>
        <span class="small">{{ card.category }}</span>
        <YearStrip
          class="strip"
          :profile="card.figures.season_profile"
          :as-of="yearShare(market.as_of)"
          :arrival="yearShare(addDays(market.planning_date, card.lead_days))"
          :label="`Year strip of ${card.name}`"
        />
        <span class="small">
          headroom {{ formatCount(card.figures.headroom) }} · demand
          {{ formatCount(card.figures.demand) }} · competition
          {{ formatCount(card.figures.competition) }} · revenue
          {{ formatCount(card.figures.sales_revenue_52w) }}
        </span>
      </div>
    </template>
    <p v-else class="small waiting">The chart is on its way …</p>
  </section>
</template>

<style scoped>
.pane {
  position: relative;
  display: flex;
  flex-direction: column;
  flex: 1;
  min-width: 0;
  min-height: 0;
}

.legend {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 14px;
  margin: 0;
  padding: 6px var(--gutter) 0;
}

.legend span {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}

.legend .acts {
  margin-left: auto;
  gap: 14px;
  font-size: 12px;
}

.card {
  position: absolute;
  z-index: 5;
  display: flex;
  flex-direction: column;
  gap: 3px;
  width: 250px;
  padding: 7px 10px;
  background: var(--page);
  border: 1px solid var(--rule);
  border-radius: 2px;
  box-shadow: 0 6px 18px rgb(0 0 0 / 18%);
  pointer-events: none;
}

.strip {
  height: 16px;
}

.waiting,
.wrong {
  padding: 20px var(--gutter);
}

.wrong {
  color: var(--rust);
}
</style>
