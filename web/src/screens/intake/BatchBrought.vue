<script setup lang="ts">
import { useBatchCoverage } from "@/api/queries";
import { sayDay } from "@/shared/format";
import CoverageBands from "./CoverageBands.vue";
import { periodOf, sayCoverage } from "./sayCoverage";

/** The weeks that one import brought or changed, table by table. */
const props = defineProps<{ id: number }>();
const coverage = useBatchCoverage(props.id);
</script>

<template>
  <p v-if="coverage.isLoading.value" class="small">Looking at the weeks it brought …</p>
  <section
    v-for="row in coverage.data.value"
    :key="row.table"
    :aria-label="`${row.table} it brought`"
  >
    <h3>
      {{ row.table }} <span class="small">{{ sayDay(row.first) }} to {{ sayDay(row.last) }}</span>
    </h3>
    <p class="small">{{ sayCoverage(row) }}</p>
    <CoverageBands
      :bands="row.bands"
      :first="row.first"
      :period="periodOf(row)"
      :label="`${row.what} of ${row.table} by ${row.period}, as this import brought them`"
    />
  </section>
</template>

<style scoped>
h3 {
  font-size: 13px;
  font-weight: 600;
  margin: 4px 0 0;
}

p {
  margin: 0 0 4px;
}

section {
  margin-bottom: 10px;
}
</style>
