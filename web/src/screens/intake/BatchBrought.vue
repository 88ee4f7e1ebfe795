<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { intakeQueries } from "@/api/intake";
import { formatCount, formatDay } from "@/format/values";
import CoverageBands from "./CoverageBands.vue";
import { periodOf, describeCoverage } from "./describeCoverage";

/** The weeks that one import brought or changed, table by table, and the figures it revised. */
const props = defineProps<{ id: number }>();
const coverage = useQuery(intakeQueries.batchCoverage(props.id));
const revised = useQuery(intakeQueries.batchRevisions(props.id));
</script>

<template>
  <p v-if="coverage.isLoading.value" class="small">Looking at the weeks it brought …</p>
  <section
    v-for="row in coverage.data.value"
    :key="row.table"
    :aria-label="`${row.table} it brought`"
  >
    <h3>
      {{ row.table }}
      <span class="small">{{ formatDay(row.first) }} to {{ formatDay(row.last) }}</span>
    </h3>
    <p class="small">{{ describeCoverage(row) }}</p>
    <CoverageBands
      :bands="row.bands"
      :first="row.first"
      :period="periodOf(row)"
      :label="`${row.what} of ${row.table} by ${row.period}, as this import brought them`"
    />
  </section>
  <section v-if="revised.data.value?.total" aria-label="Revised figures">
    <h3>
      {{ formatCount(revised.data.value.total) }}
      {{ revised.data.value.total === 1 ? "figure" : "figures" }} revised
      <v-btn :href="`/api/intake/batches/${id}/revisions/file/`">Download as CSV</v-btn>
    </h3>
    <div class="scroller" tabindex="0" role="region" aria-label="Figures before and now">
      <v-table>
        <thead>
          <tr>
            <th v-explain="'table'" scope="col">table</th>
            <th v-explain="'subject'" scope="col">whose</th>
            <th v-explain="'figure'" scope="col">figure</th>
            <th v-explain="'period-from'" scope="col">from</th>
            <th v-explain="'changed'" scope="col" class="number">before</th>
            <th v-explain="'now'" scope="col" class="number">now</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, i) in revised.data.value.rows" :key="i">
            <td>{{ one.table }}</td>
            <th scope="row">{{ one.subject }}</th>
            <td>{{ one.measure }}</td>
            <td>{{ formatDay(one.start) }}</td>
            <td class="number">{{ one.before }}</td>
            <td class="number">{{ one.now }}</td>
          </tr>
        </tbody>
      </v-table>
    </div>
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

.scroller {
  max-height: 260px;
  overflow-y: auto;
}

section {
  margin-bottom: 10px;
}
</style>
