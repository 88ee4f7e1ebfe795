<script setup lang="ts">
import { computed } from "vue";
import type { FigureRow, NichePreview, Schemas } from "@/api/client";
import ForecastChart from "@/charts/ForecastChart.vue";
import PairChart from "@/charts/PairChart.vue";
import YearsChart from "@/charts/YearsChart.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import { formatChange, formatInterval, UNKNOWN } from "@/format/values";
import FigureTables from "./FigureTables.vue";
import TrackNote from "@/screens/parts/proof/TrackNote.vue";

const props = defineProps<{
  market: string;
  niche: NichePreview;
  figures: FigureRow[];
  demand: Schemas["DemandDetail"];
}>();
defineEmits<{ working: [figure: string] }>();

const SPLITS = [
  { key: "growth_4w", label: "4 weeks against the 4 before" },
  { key: "growth_13w", label: "13 weeks against the 13 before" },
  { key: "growth_26w", label: "26 weeks against the 26 before" },
  { key: "growth_52w", label: "52 weeks against the 52 before" },
  { key: "growth_yoy", label: "13 weeks against the same a year before" },
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
  SPLITS.map(({ key, label }) => {
    const f = props.niche.figures;
    const low = f[`${key}_drift_low`];
    const high = f[`${key}_drift_high`];
    return {
      key,
      label,
      raw: f[`${key}_raw`],
      season: f[`${key}_season`],
      drift: f[`${key}_drift`],
      band: low === null || high === null ? UNKNOWN : formatInterval(low, high),
    };
  }),
);
</script>

<template>
  <div v-if="niche.values.length" class="curves">
    <ForecastChart :niche="niche" :demand="demand" />
    <YearsChart v-if="niche.years.length > 1" :subject="niche" kept />
  </div>
  <TrackNote
    v-if="niche.values.length"
    :market="market"
    part="forecast"
    :shape="niche.figures.shape"
    :weeks="52"
  />
  <template v-if="demand.interest && niche.figures.basis === 'counts'">
    <PairChart class="interest" :first="demand.interest" :second="undefined" :indexed="false" />
    <p class="small">
      Relative interest stands on its own axis: highest 100, no count, and never mixed with counts.
    </p>
  </template>
  <v-table class="splits">
    <caption>
      What the calendar did, and what is left
    </caption>
    <thead>
      <tr>
        <td />
        <th v-explain="'growth-split'" scope="col">season · drift</th>
        <th v-explain:figure="'growth_13w.raw'" scope="col">raw</th>
        <th v-explain:figure="'growth_13w.season'" scope="col">season</th>
        <th v-explain:figure="'growth_13w.drift'" scope="col">drift</th>
        <th v-explain="'interval'" scope="col">its 90% interval</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in splits" :key="one.key">
        <th scope="row">{{ one.label }}</th>
        <td><GrowthBars :season="one.season" :drift="one.drift" /></td>
        <td>
          <v-btn
            v-explain:figure="`${one.key}.raw`"
            variant="plain"
            class="number-button"
            @click="$emit('working', `${one.key}.raw`)"
          >
            {{ formatChange(one.raw) }}
          </v-btn>
        </td>
        <td>{{ formatChange(one.season) }}</td>
        <td>
          <b>{{ formatChange(one.drift) }}</b>
        </td>
        <td>{{ one.band }}</td>
      </tr>
    </tbody>
  </v-table>
  <FigureTables
    :niche="niche"
    :figures="figures"
    :groups="[KEYS, AHEAD]"
    @working="$emit('working', $event)"
  />
</template>

<style scoped>
.curves {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 2fr);
  gap: 24px;
  height: 260px;
  margin-bottom: 12px;
}

.splits {
  margin-bottom: 14px;
}

.interest {
  height: 130px;
}

@media (max-width: 820px) {
  .curves {
    grid-template-columns: minmax(0, 1fr);
    height: 420px;
  }
}

@media print {
  .curves {
    height: auto;
  }
}
</style>
