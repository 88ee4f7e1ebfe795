<script setup lang="ts">
import { computed } from "vue";
import type { Choice, LedgerRow } from "@/api/client";
import BalanceBar from "@/marks/BalanceBar.vue";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import DriftMark from "@/marks/DriftMark.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import ShapeMark from "@/marks/ShapeMark.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { sayChange, sayCount, sayPrice, sayShare, UNKNOWN } from "@/shared/format";

const props = defineProps<{ row: LedgerRow; asOf: number; arrival: number }>();
defineEmits<{ decide: [choice: Choice] }>();

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
    return `Confidence ${sayShare(sure)}${feast ? `; keeps time with ${feast}` : ""}`;
  }
  return provisional
    ? `Too little to tell; so far it looks ${provisional.toLowerCase()}`
    : "No confidence can be given";
});
</script>

<template>
  <span role="gridcell" class="cell"
    ><DecisionMarks :decision="row.decision" :name="row.name" @decide="$emit('decide', $event)"
  /></span>
  <span role="gridcell" class="cell centre">
    <b>{{ row.rank ?? UNKNOWN }}</b>
    <span v-if="row.rank && row.before !== null" class="small" :title="rankTitle">
      was {{ row.before }}
    </span>
    <span v-else-if="row.rank" class="small">{{ row.rank_low }}–{{ row.rank_high }}</span>
  </span>
  <span role="gridcell" class="cell" :title="row.name">
    <span class="name serif">{{ row.name }}</span>
    <span class="small name">{{ row.category }}</span>
  </span>
  <span role="gridcell" class="strip">
    <YearStrip
      :profile="row.season_profile"
      :as-of="asOf"
      :arrival="arrival"
      :label="`Year strip of ${row.name}`"
    />
  </span>
  <span role="gridcell" class="shape wide" :title="shapeTitle">
    <ShapeMark v-if="row.shape" :shape="row.shape" />{{ row.shape }}
  </span>
  <span role="gridcell" class="cell right"><DriftMark :row="row" /></span>
  <span role="gridcell" class="centre wide"
    ><GrowthBars :season="row.growth_13w_season" :drift="row.growth_13w_drift"
  /></span>
  <span role="gridcell" class="right wide">{{ sayChange(row.growth_13w_raw) }}</span>
  <span role="gridcell" class="right wide">{{ sayCount(row.searches_52w) }}</span>
  <span role="gridcell" class="right spare">{{ sayPrice(row.sales_price_median) }}</span>
  <span role="gridcell" class="right spare">{{
    sayCount(row.competition_parts_click_breadth)
  }}</span>
  <span role="gridcell" class="centre spare"
    ><BalanceBar :competition="row.competition" :demand="row.demand"
  /></span>
  <span
    role="gridcell"
    class="right headroom serif"
    :class="{ frontier: row.frontier }"
    :title="
      row.frontier ? 'On the frontier: no niche beats it on demand and competition' : undefined
    "
    >{{ sayCount(row.headroom) }}</span
  >
</template>

<style scoped>
.cell {
  display: flex;
  flex-direction: column;
  justify-content: center;
  min-width: 0;
  line-height: 1.15;
}

.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.name.serif {
  font-size: 15px;
  line-height: 1.1;
}

.strip {
  height: 100%;
}

.shape {
  display: flex;
  align-items: center;
  gap: 6px;
}

.right {
  text-align: right;
  align-items: flex-end;
}

.centre {
  text-align: center;
  align-items: center;
  justify-self: center;
}

.frontier::before {
  content: "◆ ";
  font-size: 9px;
  vertical-align: 3px;
  color: var(--ochre-text);
}

.headroom {
  font-size: 16px;
  font-weight: 600;
}
</style>
