<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatCount } from "@/format/values";
import { useMarket } from "@/state/useMarket";

/** How units estimated from ranks compare with own sales, and whether they are corrected by them. */
const { checks, sold } = defineProps<{ checks: Schemas["EstimateCheck"][]; sold: number }>();
const { market } = useMarket();
const setting = computed(() => ({
  path: "/settings",
  query: { market: market.value?.market_id, find: "correct_estimates" },
}));
const corrected = computed(() => checks.some((one) => one.corrected));
const estimates = computed(() => checks.reduce((many, one) => many + one.estimates, 0));
</script>

<template>
  <section aria-labelledby="estimate-checks">
    <h3 id="estimate-checks">Estimates from sales ranks against my own sales</h3>
    <p v-if="!checks.length" class="small">
      <template v-if="sold"
        >Own sales of a year are known of {{ formatCount(sold) }}
        {{ sold === 1 ? "listing" : "listings" }}. Five of a category, which nobody else is known to
        sell and of which a sales rank is known, show how far estimates there miss.</template
      >
      <template v-else
        >No own sales of single listings are known. A table own_sales with a listing_id shows how
        far units estimated from sales ranks miss, and corrects them.</template
      >
    </p>
    <template v-else>
      <p v-for="one in checks" :key="one.category + one.ratio">
        <b>{{ one.category }}</b>: {{ one.sentence }}
        <span class="small"
          >{{ formatCount(one.estimates) }}
          {{ one.estimates === 1 ? "listing has" : "listings have" }} such an estimate.</span
        >
      </p>
      <p v-if="estimates" class="small">
        {{
          corrected
            ? "They are corrected by that: multiplied by the middle, and their intervals widened."
            : "They are not corrected by that."
        }}
        <RouterLink :to="setting">{{
          corrected ? "Leave them as the ranks say" : "Correct them by my own sales"
        }}</RouterLink>
        in the settings; it needs a new analysis.
      </p>
    </template>
  </section>
</template>
