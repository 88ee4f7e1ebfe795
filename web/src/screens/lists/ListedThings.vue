<script setup lang="ts">
import { computed } from "vue";
import type { ListedThing } from "@/api/lists";
import { formatMoney } from "@/format/money";
import { formatCount, formatDay, formatUnits } from "@/format/values";
import type { KindWords } from "@/state/useKind";

/** Listings, brands or sellers of a list. */
const props = defineProps<{
  things: ListedThing[];
  kind: KindWords;
  market: string;
  busy: boolean;
}>();
defineEmits<{ drop: [id: string, name: string] }>();

const ofListings = computed(() => props.kind.of === "listings");
const sellers = computed(() =>
  props.kind.of === "sellers" ? props.things.filter((one) => one.known).map((one) => one.id) : [],
);
const unitsOf = (one: ListedThing): string =>
  formatUnits(one.sales_units_52w, one.listing_estimated_units ?? one.carried_estimated_units);
</script>

<template>
  <div class="wide">
    <v-table>
      <thead>
        <tr>
          <th v-explain="kind.one" scope="col">{{ kind.one }}</th>
          <th v-explain:figure="'sales.units_52w'" scope="col" class="number">units/yr</th>
          <th
            v-explain:figure="ofListings ? 'listing.price' : 'carried.price'"
            scope="col"
            class="number"
          >
            price
          </th>
          <th v-if="ofListings" v-explain:figure="'sleep.state'" scope="col">sleeper</th>
          <th v-if="ofListings" v-explain:figure="'sleep.order_by'" scope="col">order by</th>
          <th v-else v-explain:figure="'carried.listings'" scope="col" class="number">listings</th>
          <th scope="col"><span class="unseen">take off</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in things" :key="one.id">
          <th scope="row">
            <RouterLink
              v-if="one.known"
              :to="{
                path: kind.page ?? '',
                query: { market, [kind.named]: one.id },
              }"
              >{{ one.name }}</RouterLink><template v-else>{{ one.name }}</template>
            <span class="small where">
              {{ one.known ? one.category : "not in the figures now" }}</span
            >
          </th>
          <td class="number">{{ unitsOf(one) }}</td>
          <td class="number">{{ formatMoney(one.listing_price ?? one.carried_price) }}</td>
          <td v-if="ofListings">{{ one.sleep_state ?? "" }}</td>
          <td v-if="ofListings">
            {{ one.sleep_order_by ? formatDay(one.sleep_order_by) : "" }}
          </td>
          <td v-else class="number">{{ formatCount(one.carried_listings) }}</td>
          <td class="number">
            <v-btn
              :disabled="busy"
              :aria-label="`Take ${one.name} off the list`"
              @click="$emit('drop', one.id, one.name)"
              >Take off</v-btn
            >
          </td>
        </tr>
      </tbody>
    </v-table>
    <p v-if="sellers.length > 1" class="small">
      <RouterLink :to="{ path: '/rivals/together', query: { market, sellers: sellers.join('\n') } }"
        >What these sellers carry together</RouterLink
      >
    </p>
  </div>
</template>

<style scoped>
.where {
  margin-left: 6px;
}
</style>
