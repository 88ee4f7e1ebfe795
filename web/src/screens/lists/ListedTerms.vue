<script setup lang="ts">
import type { ListedTerm } from "@/api/lists";
import { formatCount, UNKNOWN } from "@/format/values";

/** Terms of a list. */
defineProps<{ rows: ListedTerm[]; market: string; busy: boolean }>();
defineEmits<{ drop: [term: string, name: string] }>();

const rate = (value: number | null): string =>
  value === null ? UNKNOWN : `${(value * 100).toFixed(1)}%`;
</script>

<template>
  <div class="wide">
    <v-table>
      <thead>
        <tr>
          <th v-explain="'term'" scope="col">term</th>
          <th v-explain:figure="'searches_52w'" scope="col" class="number">searches/yr</th>
          <th v-explain="'purchase-rate'" scope="col" class="number">purchase rate</th>
          <th v-explain="'niche'" scope="col">niche</th>
          <th scope="col"><span class="unseen">take off</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in rows" :key="one.term">
          <th scope="row">
            <RouterLink
              v-if="one.known"
              :to="{ path: '/terms', query: { market, term: one.term } }"
              >{{ one.term }}</RouterLink><template v-else>{{ one.term }}</template>
            <span v-if="one.misspelt_of" class="small mark">
              likely mistyped, of “{{ one.misspelt_of }}”</span
            >
            <span v-if="!one.known" class="small"> not in the figures now</span>
            <span v-if="one.protected === 'yes'" class="small mark"> holds a protected word</span>
            <span v-if="one.branded === 'yes'" class="small"> names a brand</span>
          </th>
          <td class="number">{{ formatCount(one.searches_52w) }}</td>
          <td class="number">{{ rate(one.purchase_rate) }}</td>
          <td>
            <RouterLink
              v-if="one.niche"
              :to="{ path: '/dossier', query: { market, niche: one.niche } }"
              >{{ one.niche_name }}</RouterLink><template v-else>{{ UNKNOWN }}</template>
          </td>
          <td class="number">
            <v-btn
              :disabled="busy"
              :aria-label="`Take ${one.term} off the list`"
              @click="$emit('drop', one.term, one.term)"
              >Take off</v-btn
            >
          </td>
        </tr>
      </tbody>
    </v-table>
  </div>
</template>
