<script setup lang="ts">
import { computed } from "vue";
import {
  type FigureRow,
  type MarketSummary,
  NICHES,
  type NichePreview,
  type Schemas,
} from "@/api/client";
import type { Curve } from "@/api/curves";
import PriceAnswerChart from "@/charts/PriceAnswerChart.vue";
import ProfileChart from "@/charts/ProfileChart.vue";
import { pastMark } from "@/format/seasons";
import { addDays, formatDay, formatShare } from "@/format/values";
import TwoCurves from "@/screens/parts/TwoCurves.vue";
import FigureTable from "./FigureTable.vue";
import OverruleField from "./OverruleField.vue";
import TrackNote from "@/screens/parts/proof/TrackNote.vue";

const props = defineProps<{
  niche: NichePreview;
  figures: FigureRow[];
  market: MarketSummary;
  curves: Curve[];
  demand: Schemas["DemandDetail"];
}>();
defineEmits<{ working: [figure: string] }>();

const DATES = [
  "shape", "feast", "act.caught", "act.open_until", "act.order_by", "act.running_left",
  "act.after_arrival_13w", "order_by", "season_starts", "rise_week", "peak_weeks", "second_peak_weeks", "end_week", "quiet_weeks", "best13", "best4", "recurrence", "season_moved",
]; // prettier-ignore
const LAGS = [
  "purchase_lag.weeks", "purchase_lag.low", "purchase_lag.high", "price_answer.correlation",
  "price_answer.low", "price_answer.high",
]; // prettier-ignore
/** By how many weeks purchases trail searches, where that is more than none. */
const lag = computed(() => {
  const { purchase_lag_weeks: weeks, purchase_lag_low: low } = props.niche.figures;
  return low !== null && low > 0 ? weeks : null;
});
const past = (day: string): string => (pastMark(day) ? ` · ${pastMark(day)}` : "");
/** The seasons to come, the one to act on marked. */
const seasons = computed(() => {
  const { seasons: coming, act_order_by: by } = props.niche.figures;
  return coming.map((one) => {
    const order = addDays(one.rise, -props.niche.lead_days);
    return { ...one, order, acted: order === by };
  });
});

const answer = computed(() => {
  const { price_answer_low: low, price_answer_high: high } = props.niche.figures;
  if (low === null || high === null) return "Whether price moves the purchase rate is not known.";
  if (high < 0) return "When the price falls, the purchase rate rises: buyers wait for discounts.";
  if (low > 0) return "The purchase rate rises with the price, which no discount would explain.";
  return "No answer of the purchase rate to the price can be told from chance.";
});
</script>

<template>
  <ProfileChart
    v-if="demand.profile"
    class="profile"
    :niche="niche"
    :market="market"
    :demand="demand"
  />
  <p v-else class="small">
    A season profile needs two years of term_weeks; there are {{ niche.figures.periods }}
    {{ niche.period }}s.
  </p>
  <v-table v-if="seasons.length" class="seasons">
    <caption class="small">
      Seasons to come, ordering on
      {{
        formatDay(market.planning_date)
      }}, on sale
      {{
        formatDay(addDays(market.planning_date, niche.lead_days))
      }}
      ({{
        niche.lead_days
      }}
      days)
    </caption>
    <thead>
      <tr>
        <th v-explain:figure="'act.order_by'" scope="col">order by</th>
        <th v-explain="'on-sale-by'" scope="col">on sale by</th>
        <th v-explain="'peak'" scope="col">peak</th>
        <th v-explain="'wind-down'" scope="col">wind down from</th>
        <th v-explain="'season-end'" scope="col">over after</th>
        <th v-explain="'season-share'" scope="col">of a year’s demand</th>
        <th v-explain="'season-caught'" scope="col">caught</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="season in seasons" :key="season.rise" :class="{ acted: season.acted }">
        <td>{{ formatDay(season.order) }}{{ past(season.order) }}</td>
        <td>{{ formatDay(season.rise) }}{{ past(season.rise) }}</td>
        <td>
          {{ formatDay(season.peak_start) }} to {{ formatDay(season.peak_end)
          }}{{ past(season.peak_end) }}
        </td>
        <td>{{ formatDay(season.wind_down) }}{{ past(season.wind_down) }}</td>
        <td>{{ formatDay(season.end) }}{{ past(season.end) }}</td>
        <td>{{ formatShare(season.share) }}</td>
        <td>
          {{ formatShare(season.caught) }}
          <span v-if="season.acted && niche.figures.act_open_until" class="small">
            half until {{ formatDay(niche.figures.act_open_until)
            }}{{ past(niche.figures.act_open_until) }}
          </span>
        </td>
      </tr>
    </tbody>
  </v-table>
  <TrackNote v-if="seasons.length" :market="market.market_id" part="season" />
  <OverruleField
    v-if="seasons.length"
    :market="market.market_id"
    :niche="niche"
    setting="lead_days"
    label="Lead time"
    unit="days"
  />
  <TwoCurves :id="niche.id" :of="NICHES" :market="market.market_id" :curves="curves" :lag="lag" />
  <div class="beside">
    <FigureTable
      :niche="niche"
      :figures="figures"
      :keys="DATES"
      @working="$emit('working', $event)"
    />
    <div>
      <FigureTable
        :niche="niche"
        :figures="figures"
        :keys="LAGS"
        @working="$emit('working', $event)"
      />
      <template v-if="demand.price_steps.length">
        <p class="answer">{{ answer }}</p>
        <PriceAnswerChart class="scatter" :steps="demand.price_steps" />
      </template>
      <p v-else class="small">
        Import purchases in term_weeks and price in listing_weeks to see how the purchase rate
        answers the price.
      </p>
    </div>
  </div>
</template>

<style scoped>
.profile {
  height: 230px;
}

.seasons {
  width: max-content;
  max-width: 100%;
  margin: 6px 0 14px;
}

.seasons caption {
  padding: 2px 0;
  text-align: left;
}

.seasons .acted td {
  font-weight: 600;
}

.seasons td {
  padding-right: 22px;
}

.answer {
  margin: 10px 0 4px;
}

.scatter {
  height: 220px;
}
</style>
