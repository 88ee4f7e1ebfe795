<script setup lang="ts">
import { computed } from "vue";
import type { RouteLocationRaw } from "vue-router";
import type { Schemas } from "@/api/client";
import { formatCount, formatShare } from "@/format/values";

/** Categories, brands or sellers that share in the goods of one, most first. */
const props = defineProps<{
  title: string;
  what: "category" | "brand" | "seller";
  rows: Schemas["HolderPart"][];
  to: (id: string) => RouteLocationRaw;
}>();
/** Of sellers it is told who holds the lead offers, of the others what is sold. */
const bySellers = computed(() => props.what === "seller");
const NONE = {
  category: "None of its goods names a category.",
  brand: "None of its goods names a brand.",
  seller: "Nobody is known to: import offers, or seller_id in listings.",
};
</script>

<template>
  <section :aria-label="title">
    <h2 class="serif">{{ title }}</h2>
    <v-table v-if="rows.length" density="compact">
      <thead>
        <tr>
          <th v-explain="what" scope="col">{{ what }}</th>
          <th
            scope="col"
            class="number"
            data-tip="Of the goods above, before any choice among them."
          >
            listings
          </th>
          <th
            v-if="bySellers"
            scope="col"
            class="number"
            data-tip="Share of the last year’s periods in which it held the lead offer of one of these listings, of those in which it is known who did."
          >
            lead offers
          </th>
          <template v-else>
            <th scope="col" class="number" data-tip="Its part of what they sold in the last year.">
              units/yr
            </th>
            <th scope="col" class="number" data-tip="Of all its units.">share</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in rows" :key="one.id">
          <th scope="row">
            <RouterLink :to="to(one.id)">{{ one.name }}</RouterLink>
          </th>
          <td class="number">{{ formatCount(one.listings) }}</td>
          <td v-if="bySellers" class="number">{{ formatShare(one.lead) }}</td>
          <template v-else>
            <td class="number">{{ formatCount(one.units) }}</td>
            <td class="number">{{ formatShare(one.share) }}</td>
          </template>
        </tr>
      </tbody>
    </v-table>
    <p v-else class="small">{{ NONE[what] }}</p>
  </section>
</template>
