<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { NichePreview, Schemas } from "@/api/client";
import { nicheQueries } from "@/api/niche";
import TermsChart from "@/charts/TermsChart.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import ProtectedMark from "@/marks/ProtectedMark.vue";
import YearStrip from "@/marks/YearStrip.vue";
import TermActs from "@/screens/parts/grouping/TermActs.vue";
import FileLinks from "@/ui/FileLinks.vue";
import {
  formatChange,
  formatCount,
  formatInterval,
  formatShare,
  UNKNOWN,
  yearShare,
} from "@/format/values";
import { useCopy } from "@/state/useCopy";
import WordsForListing from "./WordsForListing.vue";

type Term = Schemas["TermDetail"];

/** What buyers type, how often, when, and what comes of it; the chosen terms can be taken along. */
const props = defineProps<{
  market: Schemas["MarketSummary"];
  niche: NichePreview;
  detail: Schemas["TermsDetail"];
}>();
const copy = useCopy();

const terms = computed(() => props.detail.terms);
const total = computed(() => terms.value.reduce((sum, one) => sum + (one.searches_52w ?? 0), 0));
const shareOf = (one: Term): number | null =>
  total.value ? (one.searches_52w ?? 0) / total.value : null;
const rate = (value: number | null): string =>
  value === null ? UNKNOWN : `${(value * 100).toFixed(1)}%`;

const unserved = computed(() => terms.value.filter((one) => one.unserved).map((one) => one.term));
const chosen = ref(new Set<string>());
function toggle(term: string): void {
  const next = new Set(chosen.value);
  if (!next.delete(term)) next.add(term);
  chosen.value = next;
}
const taken = computed(() =>
  terms.value.map((one) => one.term).filter((term) => !chosen.value.size || chosen.value.has(term)),
);
const address = computed(() => {
  const query = new URLSearchParams({
    market: props.market.market_id,
    niche: props.niche.id,
  });
  if (chosen.value.size) for (const term of taken.value) query.append("term", term);
  return `/api/niche/terms/file/?${query.toString()}`;
});

const copied = (): Promise<void> => {
  const many = taken.value.length;
  const done = `${many} ${many === 1 ? "term" : "terms"} copied, a line each.`;
  return copy(taken.value.join("\n"), done, "mark the terms in the table instead");
};

const stripOf = (one: Term): number[] | null => one.profile?.map((value) => value ?? 1) ?? null;

/** The term whose clicks are followed. */
const open = ref("");
const where = useQuery(
  computed(() => ({
    ...nicheQueries.destinations(props.market.market_id, props.niche.id, open.value),
    enabled: open.value !== "",
  })),
);
const follow = (term: string): void => void (open.value = open.value === term ? "" : term);
</script>

<template>
  <TermsChart
    v-if="niche.figures.purchase_rate !== null && terms.length > 1"
    class="chart"
    :terms="terms"
    :usual="niche.figures.purchase_rate"
  />
  <p v-else-if="niche.figures.purchase_rate === null" class="small">
    Import purchases in term_weeks to see which terms are wanted and not served.
  </p>
  <p class="acts">
    <v-btn @click="copied"> Copy {{ chosen.size ? `the ${chosen.size} chosen` : "all" }} </v-btn>
    <FileLinks
      :address="address"
      :what="
        chosen.size
          ? `${chosen.size} chosen ${chosen.size === 1 ? 'term' : 'terms'}`
          : `${detail.terms.length} ${detail.terms.length === 1 ? 'term' : 'terms'}`
      "
    />
    <TermActs
      v-if="chosen.size"
      :market="market.market_id"
      :terms="taken"
      @done="chosen = new Set()"
    />
    <template v-else>
      <v-btn v-if="unserved.length" @click="chosen = new Set(unserved)"
        >Choose {{ unserved.length }} wanted, not served</v-btn
      >
      <span class="small">choose terms to make a niche of them, move or list them</span>
    </template>
  </p>
  <div class="wide">
    <v-table class="wide-table terms">
      <thead>
        <tr>
          <td />
          <th v-explain="'term'" scope="col">term</th>
          <th v-explain:figure="'searches_52w'" scope="col" class="number">searches a year</th>
          <th v-explain="'of-the-niche'" scope="col" class="number">of the niche</th>
          <th v-explain="'growth-split'" scope="col">season · drift, 13 weeks</th>
          <th v-explain:figure="'growth_13w.drift'" scope="col" class="number">drift</th>
          <th v-explain="'year-strip'" scope="col" class="strip">year</th>
          <th v-explain="'purchase-rate'" scope="col" class="number">purchase rate</th>
          <th v-explain="'interval'" scope="col">its 90% interval</th>
          <th v-explain:figure="'competition_parts.top3_share'" scope="col" class="number">
            top 3 take
          </th>
          <th v-explain="'breadth'" scope="col" class="number">breadth</th>
          <th v-explain="'brand-word'" scope="col">brand word</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="one in terms" :key="one.term">
          <tr>
            <td>
              <v-checkbox
                :model-value="chosen.has(one.term)"
                :aria-label="`Choose ${one.term}`"
                @update:model-value="toggle(one.term)"
              />
            </td>
            <th scope="row">
              <v-btn
                variant="plain"
                class="term"
                :aria-expanded="open === one.term"
                :data-tip="`Where the clicks of “${one.term}” go`"
                @click="follow(one.term)"
              >
                {{ one.term }}
              </v-btn>
              <ProtectedMark
                :hint="one.protected && `Holds “${one.protected}”, a protected word.`"
              />
              <RouterLink
                class="small out"
                :to="{ path: '/terms', query: { market: market.market_id, term: one.term } }"
                :aria-label="`${one.term} in Terms`"
                :data-tip="`“${one.term}” in the ledger of terms`"
                >in Terms</RouterLink
              >
              <span v-if="one.misspelt_of" class="small mark">
                likely mistyped, of “{{ one.misspelt_of }}”</span
              >
              <span v-else-if="one.unserved" class="small mark"> wanted, not served</span>
            </th>
            <td class="number">{{ formatCount(one.searches_52w) }}</td>
            <td class="number">{{ formatShare(shareOf(one)) }}</td>
            <td><GrowthBars :season="one.growth_season" :drift="one.growth_drift" /></td>
            <td class="number" :data-tip="formatInterval(one.growth_low, one.growth_high)">
              {{ formatChange(one.growth_drift) }}
            </td>
            <td class="strip">
              <YearStrip
                :profile="stripOf(one)"
                :as-of="yearShare(market.as_of)"
                :arrival="yearShare(market.arrival)"
                :label="`Year strip of ${one.term}`"
              />
            </td>
            <td class="number">
              {{ rate(one.purchase_rate) }}
            </td>
            <td class="small">
              {{ one.rate_low === null ? "" : `${rate(one.rate_low)} to ${rate(one.rate_high)}` }}
            </td>
            <td class="number">{{ formatShare(one.top3_share) }}</td>
            <td class="number">{{ formatCount(one.click_breadth) }}</td>
            <td>{{ one.branded === null ? UNKNOWN : one.branded ? "yes" : "no" }}</td>
          </tr>
          <tr v-if="open === one.term">
            <td />
            <td colspan="11" class="where">
              <p v-if="where.isPending.value" class="small" role="status">Looking …</p>
              <p v-else-if="where.error.value" role="alert">
                {{ (where.error.value as Error).message }}
              </p>
              <p v-else-if="!where.data.value?.length" class="small">
                No clicks after this term are known: import term_clicks to see them.
              </p>
              <v-table v-else>
                <caption>
                  Where the clicks of “{{
                    one.term
                  }}” go
                </caption>
                <thead>
                  <tr>
                    <th v-explain="'listing'" scope="col">listing</th>
                    <th v-explain="'click-share'" scope="col" class="number">clicks</th>
                    <th v-explain="'a-year-ago'" scope="col" class="number">a year ago</th>
                    <th v-explain="'purchase-share'" scope="col" class="number">purchases</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="to in where.data.value" :key="to.listing_id">
                    <th scope="row">{{ to.title }}</th>
                    <td class="number">{{ formatShare(to.click_share) }}</td>
                    <td class="number">{{ formatShare(to.before) }}</td>
                    <td class="number">{{ formatShare(to.purchase_share) }}</td>
                  </tr>
                </tbody>
              </v-table>
            </td>
          </tr>
        </template>
      </tbody>
    </v-table>
  </div>
  <v-table v-if="detail.words.length" class="words">
    <caption>
      Words beyond the thing itself: what buyers ask for
    </caption>
    <thead>
      <tr>
        <th v-explain="'recurring-word'" scope="col">word</th>
        <th v-explain="'terms-with-word'" scope="col" class="number">terms</th>
        <th v-explain="'of-the-searches'" scope="col" class="number">of the searches</th>
        <th v-explain="'purchase-rate'" scope="col" class="number">purchase rate</th>
        <th v-explain="'drift'" scope="col" class="number">drift on the year before</th>
        <th v-explain="'interval'" scope="col">its 90% interval</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in detail.words" :key="one.word">
        <th scope="row">{{ one.word }}</th>
        <td class="number">{{ one.terms }}</td>
        <td class="number">{{ formatShare(one.share) }}</td>
        <td class="number">{{ rate(one.purchase_rate) }}</td>
        <td class="number">{{ formatChange(one.drift) }}</td>
        <td>
          {{ one.low === null ? UNKNOWN : formatInterval(one.low, one.high) }}
        </td>
      </tr>
    </tbody>
  </v-table>
  <WordsForListing :market="market.market_id" :niche="niche.id" />
</template>

<style scoped>
.chart {
  height: 280px;
  max-width: 900px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  margin: 8px 0 6px;
}

.wide {
  overflow-x: auto;
}

.terms {
  width: 100%;
  min-width: 900px;
}

.term {
  background: none;
  border: 0;
  padding: 2px 0;
  text-align: left;
  cursor: pointer;
}

.term:hover {
  text-decoration: underline;
}

.out {
  white-space: nowrap;
  margin-left: 8px;
  color: var(--q5);
}

.strip {
  width: 90px;
}

.strip svg {
  height: 14px;
}

.mark {
  color: var(--ochre-text);
}

.where {
  padding: 6px 0 12px;
}

.words {
  margin-top: 14px;
}

/* A wide table is made to fit the paper. */
@media print {
  .wide {
    overflow: visible;
    zoom: 0.75;
  }
}
</style>
