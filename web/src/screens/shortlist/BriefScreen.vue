<script setup lang="ts">
import { useQueries } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { ApiError, NichePreview } from "@/api/client";
import { previewOf, useMarkets } from "@/api/queries";
import EmptyView from "@/shared/EmptyView.vue";
import { useShortcuts } from "@/shared/useShortcuts";
import NicheBrief from "./NicheBrief.vue";

/** Briefs of some niches, one a sheet of paper. */
const route = useRoute();
const router = useRouter();
const markets = useMarkets();
const market = computed(
  () =>
    markets.data.value?.find((one) => one.market_id === route.query["market"]) ??
    markets.data.value?.[0],
);
const wanted = computed(() =>
  [route.query["niche"] ?? []].flat().filter((one): one is string => Boolean(one)),
);
const previews = useQueries({
  queries: computed(() =>
    market.value
      ? wanted.value.map((niche) => previewOf(market.value?.market_id ?? "", niche))
      : [],
  ),
});
const niches = computed(() =>
  previews.value.map((one) => one.data).filter((one): one is NichePreview => one !== undefined),
);
const failures = computed(() =>
  previews.value.map((one) => one.error as ApiError | null).filter((one) => one !== null),
);
const print = (): void => window.print();
useShortcuts([
  { keys: ["Escape"], label: "Esc", does: "Back", run: () => router.back() },
  { keys: ["Enter"], does: "Print", run: print },
]);
</script>

<template>
  <div class="briefs">
    <header class="bar">
      <button class="word-button" @click="print">Print</button>
      <button class="word-button" @click="router.back()">Back</button>
      <span class="small">A sheet a niche; any printer’s “save as PDF” makes a file of it.</span>
    </header>
    <EmptyView
      v-if="!wanted.length"
      title="No niche is named"
      text="Choose niches in the Shortlist and ask for their briefs there."
    />
    <p v-for="one in failures" :key="one.message" class="failure">{{ one.message }}</p>
    <template v-if="market">
      <NicheBrief v-for="niche in niches" :key="niche.niche_id" :niche="niche" :market="market" />
    </template>
  </div>
</template>

<style scoped>
.briefs {
  height: 100%;
  overflow: auto;
}

.bar {
  display: flex;
  align-items: baseline;
  gap: 16px;
  padding: 10px var(--gutter);
  border-bottom: 1px solid var(--rule);
}

.failure {
  padding: 4px var(--gutter);
  color: var(--rust);
}

@media print {
  .briefs {
    height: auto;
    overflow: visible;
  }

  .bar {
    display: none;
  }
}
</style>
