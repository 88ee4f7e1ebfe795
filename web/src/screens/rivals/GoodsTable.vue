<script setup lang="ts">
import { computed } from "vue";
import type { HolderPage } from "@/api/rivals";
import { formatMoney } from "@/format/money";
import { formatCount, formatDay, formatUnits, UNKNOWN } from "@/format/values";
import ShapeMark from "@/marks/ShapeMark.vue";
import WhenChoice from "./WhenChoice.vue";

/** The goods of a brand or a seller: on sale now, on another day or ever; all of them, or those that moved or sleep. */
const when = defineModel<string>("when", { required: true });
const only = defineModel<string>("only", { required: true });
const props = defineProps<{
  named: "brand" | "seller";
  page: HolderPage | undefined;
  /** What is wrong with what is asked. */
  error: string;
  asOf: string;
  /** The day from which one orders. */
  planning: string;
  within: { market: string };
}>();

const ofSeller = computed(() => props.named === "seller");
const ONLY = [
  { key: "", text: "all" },
  { key: "came", text: "came in a year" },
  { key: "went", text: "went in a year" },
  { key: "asleep", text: "asleep" },
];
const told = computed(() => {
  const { page } = props;
  if (!page) return "";
  const many = `${formatCount(page.all_goods)} ${page.all_goods === 1 ? "listing" : "listings"}`;
  const some =
    page.goods.length < page.all_goods ? `, the ${page.goods.length} that sell most` : "";
  const mine = page.mine === null ? "" : `; ${formatCount(page.mine)} of them I have now as well`;
  return `${many}${some}${mine}`;
});
</script>

<template>
  <section aria-label="Its goods">
    <h2 v-explain="ofSeller ? 'storefront' : 'brand'" class="serif">
      {{ ofSeller ? "Its storefront" : "Its goods" }}
    </h2>
    <p class="choose">
      <WhenChoice
        v-model="when"
        label="When it had them"
        :as-of="asOf"
        v-bind="ofSeller ? { dayLabel: 'on' } : {}"
      />
      <v-btn-toggle v-model="only" aria-label="Which of them">
        <v-btn
          v-for="one in ONLY"
          :key="one.key"
          :value="one.key"
          :aria-pressed="only === one.key"
          >{{ one.text }}</v-btn
        >
      </v-btn-toggle>
      <span class="small" role="status">{{ told }}</span>
    </p>
    <p v-if="error" class="error">{{ error }}</p>
    <div v-else-if="page?.goods.length" class="scroller">
      <v-table density="compact">
        <thead>
          <tr>
            <th v-explain="'listing'" scope="col">listing</th>
            <th v-if="ofSeller" v-explain="'brand'" scope="col">brand</th>
            <th v-explain:figure="'listing.price'" scope="col" class="number">price</th>
            <th
              scope="col"
              class="number"
              data-tip="What the listing sold in the last year; of a seller, while it held the lead offer: an assumption. With ≈ estimated from sales ranks."
            >
              units/yr
            </th>
            <th v-explain:figure="'shape'" scope="col">shape</th>
            <th v-explain:figure="'sleep.state'" scope="col">sleeper</th>
            <th v-explain:figure="'sleep.order_by'" scope="col">order by</th>
            <th scope="col" :data-tip="ofSeller ? 'First seen with an offer of it.' : 'Launched.'">
              since
            </th>
            <th scope="col" data-tip="Last seen with it; now while it is on sale.">until</th>
            <th
              v-if="!ofSeller"
              scope="col"
              data-tip="Of a launch of the last year, against the success bar of its niche."
            >
              launch
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in page.goods" :key="one.id">
            <th scope="row" class="title">
              <RouterLink :to="{ path: '/listing', query: { ...within, listing: one.id } }">{{
                one.name
              }}</RouterLink>
              <span class="small">{{ one.category }}<b v-if="one.mine"> · mine as well</b></span>
            </th>
            <td v-if="ofSeller">{{ one.brand || UNKNOWN }}</td>
            <td class="number">{{ formatMoney(one.listing_price) }}</td>
            <td class="number">
              {{ one.estimated ? formatUnits(null, one.units) : formatCount(one.units) }}
            </td>
            <td class="shape">
              <ShapeMark v-if="one.shape" :shape="one.shape" />{{ one.shape ?? UNKNOWN }}
            </td>
            <td>{{ one.sleep_state ?? "" }}</td>
            <td>
              {{ one.sleep_order_by ? formatDay(one.sleep_order_by) : "" }}
              <span v-if="one.sleep_order_by && one.sleep_order_by < planning" class="late"
                >too late for all</span
              >
            </td>
            <td>{{ one.since ? formatDay(one.since) : UNKNOWN }}</td>
            <td>
              {{ one.on_sale ? "now" : one.until ? formatDay(one.until) : "gone" }}
            </td>
            <td v-if="!ofSeller">{{ one.fate }}</td>
          </tr>
        </tbody>
      </v-table>
    </div>
    <p v-else-if="page" class="small">Nothing of this kind.</p>
  </section>
</template>

<style scoped>
.choose {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  margin: 0 0 4px;
}

.scroller :deep(td),
.scroller :deep(th[scope="row"]) {
  vertical-align: baseline;
}

.scroller :deep(td) {
  white-space: nowrap;
}

.shape svg {
  margin-right: 5px;
  vertical-align: -2px;
}

.late {
  color: var(--rust);
  font: 11px var(--condensed);
}

.scroller {
  max-height: 480px;
  overflow: auto;
}

.title {
  font-weight: 400;
  text-align: left;
}

.title .small {
  display: block;
}
</style>
