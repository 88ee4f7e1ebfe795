<script setup lang="ts">
import type { MarketSummary } from "@/api/client";
import { formatCount } from "@/format/values";

/** The markets to choose from, each with how much is known of it. */
defineProps<{ markets: MarketSummary[]; market: MarketSummary }>();
defineEmits<{ choose: [id: string] }>();
</script>

<template>
  <v-list density="compact">
    <v-list-item
      v-for="one in markets"
      :key="one.market_id"
      :active="one.market_id === market.market_id"
      :title="`${one.name} · ${one.currency}`"
      :subtitle="`${formatCount(one.niches)} niches`"
      @click="$emit('choose', one.market_id)"
    />
  </v-list>
</template>
