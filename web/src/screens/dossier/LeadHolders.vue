<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { nicheQueries } from "@/api/niche";
import { formatCount, formatShare } from "@/format/values";

/** Who held the lead offers on the goods of a niche, in its last season or in a month; from there to all they carry. */
const props = defineProps<{ market: string; niche: string; asOf: string }>();
const month = ref("");
const found = useQuery(computed(() => nicheQueries.leads(props.market, props.niche, month.value)));
const FIRST = 12;
const all = ref(false);
const rows = computed(() => found.data.value?.rows ?? []);
const shown = computed(() => (all.value ? rows.value : rows.value.slice(0, FIRST)));
/** The foremost, whose storefronts are laid beside one another. */
const together = computed(() => ({
  path: "/rivals/together",
  query: {
    market: props.market,
    sellers: rows.value
      .slice(0, FIRST)
      .map((one) => one.seller_id)
      .join("\n"),
  },
}));
</script>

<template>
  <section aria-label="Who held the lead offers">
    <h3 v-explain="'lead-offer'">Who held the lead offers</h3>
    <p class="choose">
      <v-btn :aria-pressed="!month" @click="month = ''">in its last season</v-btn>
      <label>
        in
        <input
          v-model.lazy="month"
          type="month"
          :max="asOf.slice(0, 7)"
          aria-label="In this month"
          placeholder="2025-10"
        />
      </label>
      <RouterLink v-if="rows.length > 1" :to="together"
        >What {{ rows.length > FIRST ? "the foremost" : "they" }} carry together</RouterLink
      >
    </p>
    <p v-if="found.error.value" class="small" role="status">{{ found.error.value.message }}</p>
    <template v-else-if="found.data.value">
      <p class="small" role="status">{{ found.data.value.sentence }}</p>
      <v-table v-if="rows.length" density="compact">
        <thead>
          <tr>
            <th v-explain="'seller'" scope="col">seller</th>
            <th
              scope="col"
              class="number"
              data-tip="Share of the periods of that time in which it held a lead offer, of those in which it is known who did."
            >
              lead offers
            </th>
            <th scope="col" class="number" data-tip="Of how many listings it held one.">
              listings
            </th>
            <th scope="col" class="number" data-tip="Sold in the periods in which it held one.">
              units
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in shown" :key="one.seller_id">
            <th scope="row">
              <RouterLink
                :to="{ path: '/seller', query: { market, seller: one.seller_id, when: 'ever' } }"
                >{{ one.name }}</RouterLink
              >
            </th>
            <td class="number">{{ formatShare(one.share) }}</td>
            <td class="number">{{ one.listings }}</td>
            <td class="number">{{ formatCount(one.units) }}</td>
          </tr>
        </tbody>
      </v-table>
      <v-btn v-if="rows.length > FIRST && !all" @click="all = true"
        >All {{ rows.length }} sellers</v-btn
      >
    </template>
  </section>
</template>

<style scoped>
h3 {
  font: 600 13px var(--sans);
  margin: 14px 0 4px;
}

a {
  color: var(--q5);
}

.choose {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
  margin: 0 0 4px;
}

.choose input {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--rule);
}

th[scope="row"] {
  font-weight: 400;
  text-align: left;
}
</style>
