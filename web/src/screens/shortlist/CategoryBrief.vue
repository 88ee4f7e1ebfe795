<script setup lang="ts">
import type { MarketSummary } from "@/api/client";
import type { Category } from "@/api/previews";
import { formatDay } from "@/format/values";
import { countsOf } from "@/screens/parts/category/counts";
import ListsSection from "@/screens/parts/category/ListsSection.vue";
import SizeSection from "@/screens/parts/category/SizeSection.vue";
import SoldSection from "@/screens/parts/category/SoldSection.vue";
import BriefSheet from "./BriefSheet.vue";

/** One category on a sheet: how open, how big and when, what is in it, who sells and what comes back. */
defineProps<{ category: Category; market: MarketSummary }>();
</script>

<template>
  <BriefSheet :subject="category" class="sheet">
    <template #under>
      <template v-if="category.above.length"
        >{{ category.above.map((one) => one.name).join(" › ") }} ·
      </template>
      {{ market.name }}, {{ market.currency }} · figures as of {{ formatDay(market.as_of) }} ·
      {{ countsOf(category) }}
    </template>
    <p v-for="one in category.openness" :key="one" class="serif">{{ one }}</p>
    <SizeSection :category="category" />
    <ListsSection :category="category" :market="market" />
    <SoldSection :category="category" :market="market" />
  </BriefSheet>
</template>

<style scoped>
.sheet :deep(h3) {
  margin: 12px 0 2px;
  padding-top: 4px;
  border-top: 1px solid var(--rule);
  font: 600 14px/1.3 var(--serif);
}

.sheet :deep(p) {
  margin: 2px 0 4px;
}

.sheet :deep(section) {
  break-inside: avoid;
}
</style>
