<script setup lang="ts">
import { computed, ref } from "vue";
import type { FigureRow, MarketSummary, NichePreview, Schemas } from "@/api/client";
import PairChart from "@/charts/PairChart.vue";
import MonthHeader from "@/marks/MonthHeader.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { yearShare } from "@/shared/format";
import FigureTable from "./FigureTable.vue";

type Curve = Schemas["NicheCurve"];

const props = defineProps<{
  niche: NichePreview;
  figures: FigureRow[];
  market: MarketSummary;
  curves: Curve[];
}>();
defineEmits<{ working: [figure: string] }>();

const DATES = [
  "shape", "feast", "order_by", "order_in_days", "rise_week", "peak_weeks", "second_peak_weeks",
  "end_week", "quiet_weeks", "best13", "best4", "recurrence", "season_moved",
]; // prettier-ignore
const LAGS = [
  "purchase_lag.weeks", "purchase_lag.low", "purchase_lag.high", "price_answer.correlation",
  "price_answer.low", "price_answer.high",
]; // prettier-ignore

const one = ref("searches");
const other = ref("purchases");
const indexed = ref(false);
const curveOf = (key: string): Curve | undefined => props.curves.find((c) => c.key === key);
const first = computed(() => curveOf(one.value) ?? props.curves[0]);
const second = computed(() => (other.value === one.value ? undefined : curveOf(other.value)));
</script>

<template>
  <div class="year">
    <MonthHeader class="small" />
    <YearStrip
      class="strip"
      :profile="niche.figures.season_profile"
      :as-of="yearShare(market.as_of)"
      :arrival="yearShare(market.arrival)"
      :label="`Year strip of ${niche.name}`"
    />
    <p class="small">whole line: as-of; dashed: arrival of goods ordered then</p>
  </div>
  <p v-if="first" class="choose">
    <label
      >Lay
      <select v-model="one" aria-label="The first curve">
        <option v-for="curve in curves" :key="curve.key" :value="curve.key">
          {{ curve.label.toLowerCase() }}
        </option>
      </select></label
    >
    <label
      >over
      <select v-model="other" aria-label="The second curve">
        <option v-for="curve in curves" :key="curve.key" :value="curve.key">
          {{ curve.label.toLowerCase() }}
        </option>
      </select></label
    >
    <label><input v-model="indexed" type="checkbox" /> each against its own mean</label>
  </p>
  <PairChart v-if="first" class="pair" :first="first" :second="second" :indexed="indexed" />
  <div class="numbers">
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="DATES"
      @working="$emit('working', $event)"
    />
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="LAGS"
      @working="$emit('working', $event)"
    />
  </div>
</template>

<style scoped>
.strip {
  height: 24px;
}

.year p {
  margin: 2px 0 10px;
}

.choose {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  margin: 0 0 4px;
}

select {
  border: 0;
  border-bottom: 1px solid var(--q4);
  background: var(--paper);
  color: var(--ink);
  padding: 2px;
}

.pair {
  height: 230px;
  margin-bottom: 12px;
}

.numbers {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 50px;
}
</style>
