<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { nicheQueries } from "@/api/niche";
import { formatShare } from "@/format/values";
import "./tables.css";

/** What buyers click after a term. */
const props = defineProps<{ market: string; niche: string; term: string }>();

const BRIEF = 8;
const listings = useQuery(
  computed(() => nicheQueries.destinations(props.market, props.niche, props.term)),
);
</script>

<template>
  <v-table v-if="listings.data.value?.length" class="brief">
    <thead>
      <tr>
        <th v-explain="'listing'" scope="col">most clicked listings</th>
        <th v-explain="'click-share'" scope="col">clicks</th>
        <th scope="col">a year ago</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in listings.data.value.slice(0, BRIEF)" :key="one.listing_id">
        <th scope="row" :data-tip="one.title">{{ one.title }}</th>
        <td>{{ formatShare(one.click_share) }}</td>
        <td>{{ formatShare(one.before) }}</td>
      </tr>
    </tbody>
  </v-table>
  <p v-else-if="listings.data.value" class="small">
    No clicks are known here: import term_clicks to see the listings.
  </p>
</template>
