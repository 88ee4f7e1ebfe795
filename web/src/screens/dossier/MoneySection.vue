<script setup lang="ts">
import type { NichePreview, Schemas } from "@/api/client";
import CostForm from "./CostForm.vue";
import OverruleField from "./OverruleField.vue";
import FeeTable from "./FeeTable.vue";
import PlanLines from "@/screens/parts/PlanLines.vue";
import UnitTable from "./UnitTable.vue";

/** The costs, what comes of them, and the fees behind it; kept for the niche as typed. */
defineProps<{ market: string; niche: NichePreview; answer: Schemas["Profitability"] }>();
</script>

<template>
  <p class="plan">
    <v-btn variant="flat" :to="{ path: '/plan', query: { market, niche: niche.id } }"
      >Plan an order</v-btn
    >
    <span class="small">how many, by when, and what it does to the cash</span>
  </p>
  <PlanLines :market="market" :niche="niche.id" />
  <OverruleField
    :market="market"
    :niche="niche"
    setting="target_income"
    label="Revenue wanted a year"
  />
  <div class="money">
    <CostForm :market="market" :niche="niche.id" :paying="answer.paying" />
    <UnitTable v-if="answer.paying" :paying="answer.paying" />
    <FeeTable v-if="answer.paying" class="fees" :market="market" :classes="answer.paying.classes" />
  </div>
</template>

<style scoped>
.plan {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
  margin: 0 0 8px;
}

.money {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 14px 40px;
  align-items: start;
}

.fees {
  grid-column: 1 / -1;
}

@media (max-width: 820px) {
  .money {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
