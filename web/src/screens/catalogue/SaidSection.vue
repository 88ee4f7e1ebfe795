<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { MarketSummary } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import type { Category } from "@/api/previews";
import { formatCount, formatShare } from "@/format/values";

/** What buyers of a category's niches complain of most in what they write; nothing where nobody writes. */
const props = defineProps<{ category: Category; market: MarketSummary }>();

const SHOWN = 8;
const FIGURES = [
  "voices.texts",
  "voices.complaint",
  "voices.complaint_share",
  "voices.complaint_low",
  "voices.fault_share",
  "voices.worsening",
];
const found = useQuery(
  computed(() =>
    ledgerQueries.page(
      {
        market: props.market.market_id,
        sort: "-voices.complaint_share",
        c: [props.category.condition, "texts of buyers >= 1"],
        figures: FIGURES.join(","),
      },
      0,
    ),
  ),
);
const rows = computed(() =>
  (found.data.value?.rows ?? []).slice(0, SHOWN).map(({ id, name, extra }) => ({
    id,
    name,
    texts: extra["voices.texts"] as number | null,
    complaint: extra["voices.complaint"] as string | null,
    share: extra["voices.complaint_share"] as number | null,
    low: extra["voices.complaint_low"] as number | null,
    fault: extra["voices.fault_share"] as number | null,
    worse: extra["voices.worsening"] === "yes",
  })),
);
const to = (niche: string) => ({
  path: "/dossier",
  query: { market: props.market.market_id, niche },
  hash: "#complaints",
});
</script>

<template>
  <section v-if="rows.length" aria-label="What buyers complain of">
    <h3>What buyers complain of</h3>
    <v-table class="wide-table">
      <thead>
        <tr>
          <th v-explain="'niche'" scope="col">niche</th>
          <th v-explain:figure="'voices.texts'" scope="col" class="number">texts</th>
          <th v-explain:figure="'voices.complaint'" scope="col">complained of most</th>
          <th v-explain:figure="'voices.complaint_share'" scope="col" class="number">share</th>
          <th v-explain:figure="'voices.complaint_low'" scope="col" class="number">at least</th>
          <th v-explain:figure="'voices.fault_share'" scope="col" class="number">
            no leader lacks
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <th scope="row">
            <RouterLink :to="to(row.id)">{{ row.name }}</RouterLink>
          </th>
          <td class="number">{{ formatCount(row.texts) }}</td>
          <td>
            {{ row.complaint ?? "no theme found"
            }}<span v-if="row.worse" class="small mark">▲ a complaint grows</span>
          </td>
          <td class="number">{{ formatShare(row.share) }}</td>
          <td class="number">{{ formatShare(row.low) }}</td>
          <td class="number">{{ formatShare(row.fault) }}</td>
        </tr>
      </tbody>
    </v-table>
    <p class="small">
      {{ formatCount(found.data.value?.count) }}
      {{ found.data.value?.count === 1 ? "niche" : "niches" }} in it that buyers write about; the
      largest complaint first
    </p>
  </section>
</template>

<style scoped>
th[scope="row"] {
  text-align: left;
  font-weight: 400;
}

a {
  color: inherit;
}

.mark {
  margin-left: 8px;
  color: var(--ochre-text);
  white-space: nowrap;
}
</style>
