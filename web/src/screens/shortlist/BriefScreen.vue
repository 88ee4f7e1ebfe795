<script setup lang="ts">
import { useQueries } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRouter } from "vue-router";
import type { NichePreview } from "@/api/client";
import { previewQueries } from "@/api/previews";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import { KINDS } from "@/state/useKind";
import { useMarket, useNamed } from "@/state/useMarket";
import NicheBrief from "./NicheBrief.vue";

const UNNAMED = {
  title: "No niche is named",
  text: "Choose niches in the Shortlist and ask for their briefs there.",
};

/** Briefs of some niches, one a sheet of paper. */
const router = useRouter();
const { market } = useMarket();
useTabTitle("Briefs");
const wanted = useNamed(KINDS.niches);
const previews = useQueries({
  queries: computed(() =>
    market.value
      ? wanted.value.map((niche) => previewQueries.niche(market.value?.market_id ?? "", niche))
      : [],
  ),
});
const niches = computed(() =>
  previews.value.map((one) => one.data).filter((one): one is NichePreview => one !== undefined),
);
const failures = computed(() =>
  previews.value.map((one) => one.error).filter((error) => error !== null),
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
      <v-btn @click="print">Print</v-btn>
      <v-btn @click="router.back()">Back</v-btn>
      <span class="small">One page per niche. To save a file, print to PDF.</span>
    </header>
    <MarketGate :pending="!market" :empty="!wanted.length && UNNAMED">
      <p v-for="one in failures" :key="one.message" class="failure">{{ one.message }}</p>
      <template v-if="market">
        <NicheBrief v-for="niche in niches" :key="niche.id" :niche="niche" :market="market" />
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.briefs {
  position: relative;
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
