<script setup lang="ts">
import { useQueries } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRouter } from "vue-router";
import { CATEGORIES, type Kind, NICHES } from "@/api/client";
import { previewQueries } from "@/api/previews";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import { KINDS, useKindNamed } from "@/state/useKind";
import { useMarket, useNamed } from "@/state/useMarket";
import CategoryBrief from "./CategoryBrief.vue";
import NicheBrief from "./NicheBrief.vue";

/** Briefs of some niches or categories, one a sheet of paper. */
const router = useRouter();
const { market } = useMarket();
useTabTitle("Briefs");
const kind = useKindNamed([KINDS.niches, KINDS.categories]);
const UNNAMED = {
  title: `No ${kind.one} is named`,
  text: `Choose ${kind.many} in the Shortlist and ask for their briefs there.`,
};
const wanted = useNamed(kind);
const asked = <T,>(of: Kind, read: (market: string, id: string) => T) =>
  computed(() => {
    const id = market.value?.market_id;
    return id && kind.of === of ? wanted.value.map((one) => read(id, one)) : [];
  });
const niches = useQueries({ queries: asked(NICHES, previewQueries.niche) });
const categories = useQueries({ queries: asked(CATEGORIES, previewQueries.category) });
const failures = computed(() =>
  [...niches.value, ...categories.value].map((one) => one.error).filter((error) => error !== null),
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
      <span class="small">One page per {{ kind.one }}. To save a file, print to PDF.</span>
    </header>
    <MarketGate :pending="!market" :empty="!wanted.length && UNNAMED">
      <p v-for="one in failures" :key="one.message" class="failure">{{ one.message }}</p>
      <template v-if="market">
        <template v-for="{ data } in niches">
          <NicheBrief v-if="data" :key="data.id" :niche="data" :market="market" />
        </template>
        <template v-for="{ data } in categories">
          <CategoryBrief v-if="data" :key="data.id" :category="data" :market="market" />
        </template>
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
