<script setup lang="ts">
import { type MarketSummary, NICHES, TERMS } from "@/api/client";
import type { Category } from "@/api/previews";
import RowsSection from "./RowsSection.vue";

/** The first niches and terms of a category side by side, and other lists beside them. */
defineProps<{ category: Category; market: MarketSummary }>();
</script>

<template>
  <div class="lists">
    <RowsSection
      :category="category"
      :market="market"
      :of="NICHES"
      sort="rank"
      head="Its niches, most headroom first"
    />
    <RowsSection
      :category="category"
      :market="market"
      :of="TERMS"
      sort="-searches_52w"
      head="What buyers type"
    />
    <slot />
  </div>
</template>

<style scoped>
.lists {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(300px, 100%), 1fr));
  gap: 4px 20px;
}
</style>
