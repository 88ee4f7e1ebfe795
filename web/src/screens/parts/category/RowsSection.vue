<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { type Kind, type MarketSummary, NICHES } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import type { Category } from "@/api/previews";
import { formatCount, yearShare } from "@/format/values";
import DriftMark from "@/marks/DriftMark.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { arrivalShare } from "@/state/useMarket";

/** The first rows of a kind in a category: its niches by rank, or its terms by what they are sorted by. */
const props = defineProps<{
  category: Category;
  market: MarketSummary;
  of: Kind;
  sort: string;
  head: string;
  /** Conditions besides that they lie in the category. */
  also?: string[];
}>();
const SHOWN = 8;
const query = computed(() => ({
  ...(props.of === NICHES ? {} : { of: props.of }),
  market: props.market.market_id,
  sort: props.sort,
  c: [props.category.condition, ...(props.also ?? [])],
}));
const found = useQuery(computed(() => ledgerQueries.page(query.value, 0)));
const rows = computed(() => found.data.value?.rows.slice(0, SHOWN) ?? []);
const ofNiches = computed(() => props.of === NICHES);
const to = (id: string) =>
  ofNiches.value
    ? { path: "/dossier", query: { market: props.market.market_id, niche: id } }
    : {
        path: "/terms",
        query: { market: props.market.market_id, c: query.value.c, sort: props.sort, term: id },
      };
</script>

<template>
  <section v-if="rows.length" :aria-label="head">
    <h3>{{ head }}</h3>
    <table>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <th scope="row">
            <RouterLink :class="{ serif: ofNiches }" :to="to(row.id)">{{ row.name }}</RouterLink>
          </th>
          <td class="strip">
            <YearStrip
              :profile="row.season_profile"
              :as-of="yearShare(market.as_of)"
              :arrival="arrivalShare(market, ofNiches ? row.id : '')"
              :label="`Year strip of ${row.name}`"
            />
          </td>
          <td class="number">{{ formatCount(row.searches_52w) }}</td>
          <td class="number"><DriftMark :row="row" /></td>
          <td v-if="ofNiches" class="number">{{ formatCount(row.headroom) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      {{ ofNiches ? "year, searches a year, drift, headroom" : "year, searches a year, drift" }} ·
      {{ formatCount(found.data.value?.count) }} in all
    </p>
  </section>
</template>

<style scoped src="./rows.css"></style>

<style scoped>
section {
  min-width: 0;
}

a {
  color: inherit;
}

.strip {
  width: 74px;
  height: 24px;
}
</style>
