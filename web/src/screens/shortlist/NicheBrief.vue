<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, defineAsyncComponent } from "vue";
import type { MarketSummary, NichePreview } from "@/api/client";
import { nicheQueries } from "@/api/niche";
import MonthHeader from "@/marks/MonthHeader.vue";
import SignalMark from "@/marks/SignalMark.vue";
import VerdictText from "@/marks/VerdictText.vue";
import YearStrip from "@/marks/YearStrip.vue";
import PinnedLines from "@/screens/parts/PinnedLines.vue";
import PlanLines from "@/screens/parts/PlanLines.vue";
import { betterLine, complaintsOf, complaintVerdict, spares } from "@/format/voices";
import { sixFacts } from "@/format/facts";
import { pastMark } from "@/format/seasons";
import {
  addDays,
  splitText,
  formatCount,
  formatDay,
  formatShare,
  UNKNOWN,
  yearShare,
} from "@/format/values";
import { formatMoney } from "@/format/money";
import BriefSheet from "./BriefSheet.vue";
import TrackNote from "@/screens/parts/proof/TrackNote.vue";

/** One niche on a sheet: the verdict, the facts with their evidence, and what was decided. */
const props = defineProps<{ niche: NichePreview; market: MarketSummary }>();

const LISTED = 10;
const CurveChart = defineAsyncComponent(() => import("@/charts/CurveChart.vue"));

const terms = useQuery(computed(() => nicheQueries.terms(props.market.market_id, props.niche.id)));
const listings = useQuery(
  computed(() => nicheQueries.listings(props.market.market_id, props.niche.id)),
);
const costs = useQuery(computed(() => nicheQueries.costs(props.market.market_id, props.niche.id)));
const feedback = useQuery(
  computed(() => nicheQueries.feedback(props.market.market_id, props.niche.id)),
);
const voices = useQuery(
  computed(() => nicheQueries.voices(props.market.market_id, props.niche.id)),
);
const MOST_BETTER = 5;
/** The complaints that were worded as a product first, then those said most. */
const better = computed(() => {
  const all = voices.data.value ? complaintsOf(voices.data.value) : [];
  return [...all.filter((one) => one.remedy), ...all.filter((one) => !one.remedy)].slice(
    0,
    MOST_BETTER,
  );
});
const verdict = computed(() => {
  const [written, counted] = [voices.data.value, feedback.data.value];
  return written && counted ? complaintVerdict(written, counted).join(" ") : "";
});
const f = computed(() => props.niche.figures);
const complaints = computed(() =>
  (feedback.data.value?.themes ?? []).filter((one) => one.tone === "complaint").slice(0, 3),
);
const dated = (head: string, of: string, date: string | null) => ({
  head,
  of,
  figure: date === null ? UNKNOWN : formatDay(date),
  beside: date === null ? "" : pastMark(date),
});
/** The dates of a season; a niche that is not clearly seasonal has none to order by. */
const season = computed(() =>
  f.value.shape_family === "seasonal"
    ? [
        dated("Order by, season to act on", "act.order_by", f.value.act_order_by),
        dated("Half is caught until", "act.open_until", f.value.act_open_until),
        // The season to act on is the next full one where it has not begun to be missed.
        ...(f.value.order_by === f.value.act_order_by
          ? []
          : [dated("Order by, next full season", "order_by", f.value.order_by)]),
      ]
    : [],
);
/** When to order, what is caught then, and what is expected of the year to come. */
const dates = computed(() => [
  ...season.value,
  {
    head: "On sale",
    of: "planning_date",
    figure: formatDay(addDays(props.market.planning_date, props.niche.lead_days)),
    beside: `if ordered ${formatDay(props.market.planning_date)}, ${props.niche.lead_days} days before`,
  },
  {
    head: "Forecast, 52 weeks, searches",
    of: "forecast_52w.value",
    figure: formatCount(f.value.forecast_52w_value),
    beside:
      f.value.forecast_52w_low === null
        ? ""
        : `80% interval ${formatCount(f.value.forecast_52w_low)} to ${formatCount(f.value.forecast_52w_high)}`,
  },
  {
    head: "Left of one unit",
    of: "",
    figure: formatMoney(costs.data.value?.paying?.result.left ?? null),
    beside: costs.data.value?.paying?.assumed.length ? "with costs that are assumed" : "",
  },
]);
const facts = computed(() => sixFacts(f.value));
</script>

<template>
  <BriefSheet :subject="niche">
    <template #under>
      {{ niche.category }} · {{ market.name }}, {{ market.currency }} · figures as of
      {{ formatDay(market.as_of) }} · rank {{ formatCount(f.rank) }} of
      {{ formatCount(market.niches) }} (band {{ formatCount(f.rank_low) }} to
      {{ formatCount(f.rank_high) }}), headroom {{ formatCount(f.headroom) }} of 100, by the lens
      Default
    </template>
    <div class="verdict"><VerdictText :subject="niche" /></div>
    <dl>
      <div v-for="fact in facts" :key="fact.head">
        <dt v-explain:figure="fact.of" class="small">{{ fact.head }}</dt>
        <dd class="serif">{{ fact.figure }}</dd>
        <dd class="small">{{ fact.beside }}</dd>
      </div>
    </dl>
    <dl>
      <div v-for="one in dates" :key="one.head">
        <dt
          v-explain:figure="one.of || undefined"
          v-explain="one.of ? undefined : 'waterfall'"
          class="small"
        >
          {{ one.head }}
        </dt>
        <dd class="serif">{{ one.figure }}</dd>
        <dd class="small">{{ one.beside }}</dd>
      </div>
    </dl>
    <TrackNote :market="market.market_id" part="season" />
    <TrackNote :market="market.market_id" part="forecast" :shape="f.shape" :weeks="52" />
    <TrackNote :market="market.market_id" part="launch" />
    <section v-if="costs.data.value?.paying">
      <h2 class="small">Does it pay?</h2>
      <p>{{ costs.data.value.paying.verdict.join(" ") }}</p>
    </section>
    <PlanLines :market="market.market_id" :niche="niche.id" />
    <section v-if="feedback.data.value && voices.data.value">
      <h2 class="small">What do they complain of?</h2>
      <p>{{ verdict }}</p>
      <ul v-if="better.length" class="better" aria-label="What a better product would do">
        <li v-for="one in better" :key="one.id">
          <b>{{ betterLine(one) }}.</b> “{{ one.name }}” is complained of in
          {{ formatShare(one.share) }} ({{ formatShare(one.low) }} to {{ formatShare(one.high) }})
          of {{ formatCount(voices.data.value.texts) }} texts, of {{ one.sharing }} of
          {{ voices.data.value.leaders_of }} leaders; {{ spares(one, voices.data.value) }}.
        </li>
      </ul>
      <PinnedLines :market="market.market_id" :niche="niche.id" />
      <p v-if="complaints.length" class="small">
        Most often named:
        {{ complaints.map((one) => `${one.theme} ${formatShare(one.share)}`).join(" · ") }}
      </p>
    </section>
    <CurveChart v-if="niche.values.length" class="curve" :subject="niche" />
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
    <p class="small">13 weeks against the 13 before: {{ splitText(f) }}</p>
    <ul v-if="niche.signals.length">
      <li v-for="signal in niche.signals" :key="signal.key">
        <SignalMark :tone="signal.tone" /><b>{{ signal.name }}.</b> {{ signal.evidence }}
      </li>
    </ul>
    <div class="tables">
      <v-table>
        <caption class="small">
          Terms
        </caption>
        <tbody>
          <tr v-for="term in terms.data.value?.slice(0, LISTED)" :key="term.term">
            <th scope="row">{{ term.term }}</th>
            <td>{{ formatCount(term.searches_52w) }} a year</td>
          </tr>
        </tbody>
      </v-table>
      <v-table v-if="listings.data.value?.length">
        <caption class="small">
          Most clicked listings: share of clicks, price, reviews
        </caption>
        <tbody>
          <tr v-for="one in listings.data.value.slice(0, LISTED)" :key="one.listing_id">
            <th scope="row">{{ one.title }}</th>
            <td>{{ formatShare(one.click_share) }}</td>
            <td>{{ formatMoney(one.price) }}</td>
            <td>{{ formatCount(one.reviews) }}</td>
          </tr>
        </tbody>
      </v-table>
    </div>
  </BriefSheet>
</template>

<style scoped>
h2 {
  margin: 8px 0 0;
  font-weight: 400;
}

p {
  margin: 0 0 8px;
}

.verdict {
  font: 15px/1.42 var(--serif);
  color: var(--ink2);
  margin: 10px 0;
}

dl {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  margin: 0 0 10px;
  border-top: 1px solid var(--ink);
}

dl > div {
  padding: 5px 8px 5px 0;
  border-bottom: 1px solid var(--rule);
}

dd {
  margin: 0;
}

dd.serif {
  font-size: 19px;
}

.curve {
  height: 170px;
}

.year {
  margin: 8px 0;
}

.strip {
  height: 20px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}

li {
  padding: 3px 0;
  border-top: 1px solid var(--rule);
}

.tables {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  gap: 24px;
}

.v-table :deep(table) {
  border-collapse: collapse;
  align-self: start;
}

caption,
th,
td {
  text-align: left;
  font-weight: 400;
  padding: 2px 8px 2px 0;
}

th,
td {
  border-bottom: 1px solid var(--rule);
}

td {
  text-align: right;
  white-space: nowrap;
}
</style>
