<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, defineAsyncComponent } from "vue";
import type { Choice, MarketSummary, NichePreview } from "@/api/client";
import { nicheQueries } from "@/api/niche";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import MonthHeader from "@/marks/MonthHeader.vue";
import SignalLine from "@/marks/SignalLine.vue";
import VerdictText from "@/marks/VerdictText.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { sixFacts } from "@/format/facts";
import { addDays, formatCount, formatShare, splitText, yearShare } from "@/format/values";
import { formatMoney } from "@/format/money";

/** Everything a yes or no needs, on one page. */
const props = defineProps<{ niche: NichePreview; market: MarketSummary }>();
defineEmits<{ decide: [choice: Choice] }>();

const BRIEF = 5;
const CurveChart = defineAsyncComponent(() => import("@/charts/CurveChart.vue"));
const YearsChart = defineAsyncComponent(() => import("@/charts/YearsChart.vue"));

const terms = useQuery(computed(() => nicheQueries.terms(props.market.market_id, props.niche.id)));
const listings = useQuery(
  computed(() => nicheQueries.listings(props.market.market_id, props.niche.id)),
);
const f = computed(() => props.niche.figures);
const facts = computed(() => sixFacts(f.value));
</script>

<template>
  <article class="card" :aria-label="niche.name">
    <header>
      <h1 class="serif">{{ niche.name }}</h1>
      <span class="small">{{ niche.category }}</span>
      <DecisionMarks
        :decision="niche.decision"
        :name="niche.name"
        @decide="$emit('decide', $event)"
      />
    </header>
    <div class="look">
      <CurveChart v-if="niche.values.length" class="curve" :niche="niche" />
      <p v-else class="curve">There is no curve to look at.</p>
      <div class="year">
        <MonthHeader class="small" />
        <YearStrip
          class="strip"
          :profile="f.season_profile"
          :as-of="yearShare(market.as_of)"
          :arrival="yearShare(addDays(market.planning_date, niche.lead_days))"
          :label="`Year strip of ${niche.name}`"
        />
      </div>
      <YearsChart v-if="niche.years.length > 1" class="years" :niche="niche" />
    </div>
    <div class="read">
      <dl class="facts">
        <div v-for="fact in facts" :key="fact.head">
          <dt v-explain:figure="fact.of" class="small">{{ fact.head }}</dt>
          <dd class="serif">{{ fact.figure }}</dd>
          <dd class="small">{{ fact.beside }}</dd>
        </div>
      </dl>
      <p class="split">
        <span class="small">13 weeks against the 13 before</span>
        <GrowthBars :season="f.growth_13w_season" :drift="f.growth_13w_drift" />
        <span class="small">
          {{ splitText(f) }}
        </span>
      </p>
      <div class="words">
        <SignalLine :signals="niche.signals" />
        <VerdictText :niche="niche" />
      </div>
      <v-table>
        <thead>
          <tr>
            <th v-explain="'term'" scope="col">terms</th>
            <th v-explain:figure="'searches_52w'" scope="col">searches/yr</th>
            <th v-explain="'purchase-rate'" scope="col">buy</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="term in terms.data.value?.slice(0, BRIEF)" :key="term.term">
            <th scope="row" :data-tip="term.term">{{ term.term }}</th>
            <td>{{ formatCount(term.searches_52w) }}</td>
            <td>{{ formatShare(term.purchase_rate) }}</td>
          </tr>
        </tbody>
      </v-table>
      <v-table v-if="listings.data.value?.length">
        <thead>
          <tr>
            <th v-explain="'listing'" scope="col">most clicked listings</th>
            <th v-explain="'click-share'" scope="col">clicks</th>
            <th v-explain:figure="'sales.price_median'" scope="col">price</th>
            <th v-explain:figure="'review_barrier'" scope="col">reviews</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in listings.data.value.slice(0, BRIEF)" :key="one.listing_id">
            <th scope="row" :data-tip="one.title">
              {{ one.title }} <span v-if="one.brand" class="small">{{ one.brand }}</span>
            </th>
            <td>{{ formatShare(one.click_share) }}</td>
            <td>{{ formatMoney(one.price) }}</td>
            <td>{{ formatCount(one.reviews) }}</td>
          </tr>
        </tbody>
      </v-table>
      <p v-else-if="listings.data.value" class="small">
        No clicks are known here: import term_clicks to see the listings.
      </p>
    </div>
  </article>
</template>

<style scoped>
.card {
  position: relative;
  display: grid;
  grid-template-columns: minmax(0, 1.45fr) minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px 30px;
  padding: 12px var(--gutter) 10px;
  min-height: 0;
  flex: 1;
}

header {
  grid-column: 1 / -1;
  display: flex;
  align-items: baseline;
  gap: 14px;
}

h1 {
  font-size: 26px;
  font-weight: 600;
  line-height: 1.15;
  margin: 0;
}

.look {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
}

.curve {
  flex: 3;
  min-height: 120px;
}

.years {
  flex: 2;
  min-height: 100px;
}

.strip {
  height: 22px;
}

.read {
  position: relative;
  overflow-y: auto;
  scrollbar-width: thin;
  min-height: 0;
}

.facts {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  margin: 0;
  border-top: 1px solid var(--ink);
}

.facts > div {
  padding: 6px 8px 6px 0;
  border-bottom: 1px solid var(--rule);
}

dd {
  margin: 0;
}

dd.serif {
  font-size: 20px;
  line-height: 1.2;
}

.split {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 0 10px;
  margin: 6px 0;
}

.words {
  font: 14px/1.38 var(--serif);
  color: var(--ink2);
  margin-bottom: 8px;
}

.v-table :deep(table) {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  margin-bottom: 8px;
}

th,
td {
  text-align: right;
  font-weight: 400;
  padding: 2px 0 2px 8px;
  border-bottom: 1px solid var(--rule);
  width: 58px;
}

thead th {
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
}

th:first-child {
  text-align: left;
  padding-left: 0;
  width: auto;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

@media (max-width: 820px) {
  .card {
    display: block;
    overflow-y: auto;
  }

  .look {
    height: 420px;
    margin: 8px 0;
  }
}
</style>
