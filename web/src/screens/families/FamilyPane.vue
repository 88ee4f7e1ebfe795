<script setup lang="ts">
import { computed } from "vue";
import type { MarketSummary } from "@/api/client";
import type { Family } from "@/api/families";
import { formatCount, yearShare } from "@/format/values";
import YearStrip from "@/marks/YearStrip.vue";
import { arrivalShare } from "@/state/useMarket";
import YearBars from "./YearBars.vue";

/** One family: whether it is enough for a brand, who serves it, how its seasons fill one another, and its goods. */
const props = defineProps<{ family: Family; market: MarketSummary }>();

// Among niches and without newcomers’ sales, so the words on the openness of categories would mislead.
const OPENNESS =
  "How easily newcomers got in, 0 to 100: launches that worked (low end of the interval), clicks beyond the first five listings, few reviews; each by its place among the market’s niches. Where launches cannot be judged, the other two tell. No interval is worked out.";
const start = computed(() => props.family.members.find((one) => one.id === props.family.start));
const dossier = (niche: string) => ({
  path: "/dossier",
  query: { market: props.market.market_id, niche },
});
const sideBySide = computed(() => ({
  path: "/compare",
  query: {
    market: props.market.market_id,
    niche: props.family.members.slice(0, 6).map((one) => one.id),
  },
}));
const almanac = computed(() => ({
  path: "/almanac",
  query: { market: props.market.market_id, chosen: props.family.members.map((one) => one.id) },
}));
</script>

<template>
  <article class="family" :aria-label="family.name">
    <header>
      <h2 class="serif">{{ family.name }}</h2>
      <span class="small"
        >{{ formatCount(family.searches_52w) }} searches a year,
        {{ formatCount(family.open_searches_52w) }} of them without brand or protected words</span
      >
    </header>
    <section aria-label="Enough for a brand?">
      <h3><span v-explain="'enough'">Enough for a brand?</span></h3>
      <p class="serif">{{ family.answer }}</p>
      <p v-if="start" class="small">
        To begin with: <RouterLink :to="dossier(start.id)">{{ start.name }}</RouterLink>,
        {{ start.wanted ? "with most headroom of those searched enough" : "with most headroom" }}
      </p>
    </section>
    <section aria-label="Who serves it?">
      <h3>Who serves it?</h3>
      <p class="serif">{{ family.served }}</p>
      <p v-if="family.ties.length" class="small">
        Tied by {{ family.ties.join(", ") }}.
        <template v-if="family.ties.length === 1 && family.ties[0] === 'words'"
          >Words alone are the weakest tie: look whether the same people want them.</template
        >
      </p>
    </section>
    <section aria-label="How open is it?">
      <h3><span :data-tip="OPENNESS">How open is it?</span></h3>
      <p class="serif">{{ family.opens }}</p>
    </section>
    <section aria-label="When does it sell?">
      <h3>When does it sell?</h3>
      <p class="serif">{{ family.runs }}</p>
      <YearBars :year="family.year" />
    </section>
    <v-table>
      <thead>
        <tr>
          <th v-explain="'niche'" scope="col">goods</th>
          <th v-explain="'year-strip'" scope="col" class="strip">year</th>
          <th v-explain="'monthly-searches'" scope="col" class="number">searches a month</th>
          <th v-explain:figure="'headroom'" scope="col" class="number">headroom</th>
          <th :data-tip="OPENNESS" scope="col" class="number">openness</th>
          <th v-if="family.ties.length" v-explain="'family-ties'" scope="col" class="ties">
            tied by
          </th>
          <th v-explain="'decision'" scope="col">decision</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in family.members" :key="one.id">
          <th scope="row">
            <RouterLink class="serif" :to="dossier(one.id)">{{ one.name }}</RouterLink>
            <span class="small">{{ one.category }}</span>
          </th>
          <td class="strip">
            <YearStrip
              :profile="one.season_profile"
              :as-of="yearShare(market.as_of)"
              :arrival="arrivalShare(market, one.id)"
              :label="`Year strip of ${one.name}`"
            />
          </td>
          <td class="number">
            {{ formatCount(one.searches_month) }}
            <span v-if="one.wanted" class="small">in the band</span>
          </td>
          <td class="number">{{ formatCount(one.headroom) }}</td>
          <td class="number">{{ formatCount(one.openness) }}</td>
          <td v-if="family.ties.length" class="small ties">{{ one.ties.join(", ") }}</td>
          <td class="small">{{ one.decision ?? "open" }}</td>
        </tr>
      </tbody>
    </v-table>
    <p class="acts">
      <v-btn :to="sideBySide">Side by side</v-btn>
      <v-btn :to="almanac">On the almanac</v-btn>
      <v-btn :to="{ path: '/settings', query: { market: market.market_id, find: 'brand' } }"
        >What is enough</v-btn
      >
    </p>
  </article>
</template>

<style scoped>
.family {
  padding: 12px var(--gutter) 24px;
}

a {
  color: var(--q5);
}

h2 {
  margin: 0;
  font-size: 22px;
  line-height: 1.2;
  overflow-wrap: anywhere;
}

h3 {
  margin: 14px 0 2px;
  padding-top: 6px;
  border-top: 1px solid var(--rule);
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
}

p {
  max-width: 76ch;
  margin: 2px 0;
}

p.serif {
  font-size: 15px;
}

.v-table {
  margin-top: 14px;
}

tbody th .small {
  display: block;
}

td.strip {
  width: 130px;
  height: 26px;
}

.number .small {
  display: block;
}

/* What ties them is said above the table too. */
@media (max-width: 600px) {
  .ties {
    display: none;
  }

  td.strip {
    min-width: 60px;
  }
}

.acts {
  display: flex;
  gap: 18px;
  margin-top: 12px;
}
</style>
