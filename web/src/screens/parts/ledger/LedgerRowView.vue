<script setup lang="ts">
import { computed } from "vue";
import type { Choice, FigureRow, LedgerRow } from "@/api/client";
import ActMark from "@/marks/ActMark.vue";
import BalanceBar from "@/marks/BalanceBar.vue";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import DriftMark from "@/marks/DriftMark.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import ShapeMark from "@/marks/ShapeMark.vue";
import ProtectedMark from "@/marks/ProtectedMark.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { formatBrief, formatCount, formatShare, UNKNOWN } from "@/format/values";
import { formatMoney } from "@/format/money";
import { formatFigure } from "@/format/figure";
import type { Column } from "./columns";

const props = defineProps<{
  row: LedgerRow;
  columns: Column[];
  figures: Map<string, FigureRow>;
  marked: boolean;
  asOf: number;
  arrival: number;
}>();
defineEmits<{ decide: [choice: Choice]; mark: []; working: [figure: string] }>();

/** Under another lens: how far the rank moved, and its band. */
const rankTitle = computed(() => {
  const { rank, before, rank_low: low, rank_high: high } = props.row;
  if (rank === null || before === null) return undefined;
  const steps = before - rank;
  const moved = steps === 0 ? "Did not move" : `${steps > 0 ? "Up" : "Down"} ${Math.abs(steps)}`;
  return low === null ? moved : `${moved}; band ${low}–${high ?? UNKNOWN}`;
});

/** How sure the shape is, and the feast it keeps time with. */
const shapeTitle = computed(() => {
  const { shape_confidence: sure, provisional, feast } = props.row;
  if (sure !== null) {
    return `Confidence ${formatShare(sure)}${feast ? `; keeps time with ${feast}` : ""}`;
  }
  return provisional
    ? `Too little to tell; so far it looks ${provisional.toLowerCase()}`
    : "No confidence can be given";
});

/** What a plain cell says. */
function plain(column: Column): string {
  const { row } = props;
  if (column.key === "raw") return formatBrief(row.growth_13w_raw);
  if (column.key === "searches") return formatCount(row.searches_52w);
  if (column.key === "price") return formatMoney(row.sales_price_median);
  if (column.key === "breadth") return formatCount(row.competition_parts_click_breadth);
  const figure = props.figures.get(column.key);
  return figure ? formatFigure(figure, row.extra[column.key]) : UNKNOWN;
}
</script>

<template>
  <span
    v-for="column in columns"
    :key="column.key"
    role="gridcell"
    :class="['cell', column.align, column.key, { pinned: column.key === 'name' }]"
    :data-tip="
      column.key === 'name'
        ? row.name
        : column.key === 'rank'
          ? [row.high_under_all ? 'In the best tenth under every ready lens' : '', rankTitle]
              .filter(Boolean)
              .join('. ') || undefined
          : column.key === 'shape'
            ? shapeTitle
            : column.key === 'headroom' && row.frontier
              ? 'On the frontier: no niche beats it on demand and competition'
              : undefined
    "
    @dblclick="column.figure && $emit('working', column.figure)"
  >
    <template v-if="column.key === 'decision'">
      <input
        type="checkbox"
        tabindex="-1"
        :checked="marked"
        :aria-label="`Mark ${row.name}`"
        @click.stop
        @change="$emit('mark')"
      />
      <DecisionMarks :decision="row.decision" :name="row.name" @decide="$emit('decide', $event)" />
    </template>
    <template v-else-if="column.key === 'rank'">
      <b :class="{ high: row.high_under_all }">{{ row.rank ?? UNKNOWN }}</b>
      <span v-if="row.rank && row.before !== null" class="small">was {{ row.before }}</span>
      <span v-else-if="row.rank" class="small">{{ row.rank_low }}–{{ row.rank_high }}</span>
    </template>
    <template v-else-if="column.key === 'name'">
      <span class="name serif">{{ row.name }}<ProtectedMark :hint="row.protected" /></span>
      <span class="small name">{{ row.category }}</span>
    </template>
    <YearStrip
      v-else-if="column.key === 'strip'"
      :profile="row.season_profile"
      :as-of="asOf"
      :arrival="arrival"
      :label="`Year strip of ${row.name}`"
    />
    <template v-else-if="column.key === 'shape'">
      <ShapeMark v-if="row.shape" :shape="row.shape" />{{ row.shape }}
    </template>
    <ActMark v-else-if="column.key === 'act'" :row="row" />
    <DriftMark v-else-if="column.key === 'drift_a_year'" :row="row" />
    <GrowthBars
      v-else-if="column.key === 'split'"
      :season="row.growth_13w_season"
      :drift="row.growth_13w_drift"
    />
    <BalanceBar
      v-else-if="column.key === 'balance'"
      :competition="row.competition"
      :demand="row.demand"
    />
    <span
      v-else-if="column.key === 'headroom'"
      class="figure serif"
      :class="{ frontier: row.frontier }"
      >{{ formatCount(row.headroom) }}</span
    >
    <span v-else class="name">{{ plain(column) }}</span>
  </span>
</template>

<style scoped>
.cell {
  display: flex;
  flex-direction: column;
  justify-content: center;
  min-width: 0;
  height: 100%;
  line-height: 1.15;
}

.decision,
.shape {
  flex-direction: row;
  align-items: center;
  justify-content: flex-start;
}

.decision input {
  appearance: none;
  flex: none;
  width: 12px;
  height: 12px;
  margin: 0 5px 0 0;
  border: 1px solid var(--ink3);
}

.decision input:checked {
  border-color: var(--q5);
  background: linear-gradient(var(--q5), var(--q5)) center / 6px 6px no-repeat;
}

.shape {
  gap: 6px;
}

/* Cut off to the right only: what reaches below the line is part of the letter. */
.name {
  flex: none;
  max-width: 100%;
  overflow: clip visible;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.name.serif {
  font-size: 15px;
  line-height: 1.05;
}

.name.small {
  line-height: 1.1;
}

.right {
  text-align: right;
  align-items: flex-end;
}

.centre {
  text-align: center;
  align-items: center;
}

.frontier::before {
  content: "◆ ";
  font-size: 9px;
  vertical-align: 3px;
  color: var(--ochre-text);
}

.high::before {
  content: "◎ ";
  font-size: 9px;
  vertical-align: 2px;
  color: var(--ochre-text);
}

.figure {
  font-size: 16px;
  font-weight: 600;
  white-space: nowrap;
}
</style>
