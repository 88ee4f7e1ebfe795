<script setup lang="ts">
import type { MarketSummary } from "@/api/client";
import EmptyView from "@/ui/EmptyView.vue";

/** What stands in the place of a screen that asks more of a market than the niches of a run over parts. */
defineProps<{ market: MarketSummary }>();
</script>

<template>
  <EmptyView
    :title="`${market.name} has niches alone`"
    :text="`Their figures were made over the parts of ${market.data_set}. Terms, categories, listings, brands and sellers, what changed, data coverage and the track record are there for markets that are imported.`"
  >
    <v-btn :to="{ path: '/field', query: { market: market.market_id } }">To the Field</v-btn>
  </EmptyView>
</template>

<style scoped>
:deep(p) {
  overflow-wrap: anywhere;
}
</style>
