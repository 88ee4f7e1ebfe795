<script setup lang="ts">
import { computed } from "vue";
import type { FigureRow, NichePreview } from "@/api/client";
import CurveChart from "@/charts/CurveChart.vue";
import YearsChart from "@/charts/YearsChart.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import { sayChange, UNKNOWN } from "@/shared/format";
import FigureTable from "./FigureTable.vue";

const props = defineProps<{ niche: NichePreview; figures: FigureRow[] }>();
defineEmits<{ working: [figure: string] }>();

const SPLITS = [
  { key: "growth_4w", says: "4 weeks against the 4 before" },
  { key: "growth_13w", says: "13 weeks against the 13 before" },
  { key: "growth_26w", says: "26 weeks against the 26 before" },
  { key: "growth_52w", says: "52 weeks against the 52 before" },
  { key: "growth_yoy", says: "13 weeks against the same a year before" },
] as const;
const KEYS = [
  "searches_52w", "purchases_52w", "purchase_rate", "sales.units_52w", "sales.revenue_52w",
  "drift_rate_year", "level_shifts", "coverage", "gaps", "outliers", "shape_confidence",
]; // prettier-ignore
const AHEAD = [
  "forecast_26w.value", "forecast_26w.low", "forecast_26w.high", "forecast_52w.value",
  "forecast_52w.low", "forecast_52w.high", "interest_agreement",
]; // prettier-ignore

const splits = computed(() =>
  SPLITS.map(({ key, says }) => {
    const f = props.niche.figures;
    const low = f[`${key}_drift_low`];
    const high = f[`${key}_drift_high`];
    return {
      key,
      says,
      raw: f[`${key}_raw`],
      season: f[`${key}_season`],
      drift: f[`${key}_drift`],
      band: low === null || high === null ? UNKNOWN : `${sayChange(low)} to ${sayChange(high)}`,
    };
  }),
);
</script>

<template>
  <div v-if="niche.values.length" class="curves">
    <CurveChart :niche="niche" kept />
    <YearsChart v-if="niche.years.length > 1" :niche="niche" kept />
  </div>
  <table class="splits">
    <caption class="small">
      What the calendar did, and what is left
    </caption>
    <thead>
      <tr>
        <td />
        <th scope="col">season · drift</th>
        <th scope="col">raw</th>
        <th scope="col">season</th>
        <th scope="col">drift</th>
        <th scope="col">its 90% interval</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in splits" :key="one.key">
        <th scope="row">{{ one.says }}</th>
        <td><GrowthBars :season="one.season" :drift="one.drift" /></td>
        <td>
          <button class="figure" @click="$emit('working', `${one.key}.raw`)">
            {{ sayChange(one.raw) }}
          </button>
        </td>
        <td>{{ sayChange(one.season) }}</td>
        <td>
          <b>{{ sayChange(one.drift) }}</b>
        </td>
        <td>{{ one.band }}</td>
      </tr>
    </tbody>
  </table>
  <div class="numbers">
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="KEYS"
      @working="$emit('working', $event)"
    />
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="AHEAD"
      @working="$emit('working', $event)"
    />
  </div>
</template>

<style scoped>
.curves {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 1fr);
  gap: 24px;
  height: 240px;
  margin-bottom: 12px;
}

.splits {
  border-collapse: collapse;
  margin-bottom: 14px;
}

caption {
  text-align: left;
}

th,
td {
  text-align: left;
  font-weight: 400;
  padding: 2px 20px 2px 0;
  border-bottom: 1px solid var(--rule);
}

thead th {
  font: 11px var(--condensed);
  color: var(--ink3);
}

.figure {
  background: none;
  border: 0;
  padding: 2px 0;
  cursor: pointer;
}

.numbers {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 50px;
}

@media (max-width: 820px) {
  .curves {
    grid-template-columns: minmax(0, 1fr);
    height: 420px;
  }
}
</style>
