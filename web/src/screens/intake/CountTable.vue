<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { formatCount } from "@/format/values";

/** Rows or curves of each table by what happened, or would happen, to them. */
defineProps<{ counts: Schemas["TableCount"][]; caption: string }>();
</script>

<template>
  <v-table>
    <caption>
      {{
        caption
      }}
    </caption>
    <thead>
      <tr>
        <th v-explain="'rows-curves'" scope="col">table</th>
        <th v-explain="'new'" scope="col" class="number">new</th>
        <th v-explain="'changed'" scope="col" class="number">changed</th>
        <th v-explain="'unchanged'" scope="col" class="number">unchanged</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in counts" :key="one.table">
        <th scope="row">
          {{ one.table }} <span class="small">{{ one.of }}</span>
        </th>
        <td class="number" :class="{ none: !one.new }">{{ formatCount(one.new) }}</td>
        <td class="number" :class="{ none: !one.changed }">{{ formatCount(one.changed) }}</td>
        <td class="number" :class="{ none: !one.unchanged }">{{ formatCount(one.unchanged) }}</td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.none {
  color: var(--ink3);
}
</style>
