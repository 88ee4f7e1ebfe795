<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import type { ApiError } from "@/api/client";
import { ownQuery, rivalsQueries } from "@/api/rivals";
import { formatMoney } from "@/format/money";
import { formatCount, formatDay, formatUnits, UNKNOWN } from "@/format/values";
import ShapeMark from "@/marks/ShapeMark.vue";
import { useMarket } from "@/state/useMarket";
import { usePart } from "@/state/usePart";
import { useTabTitle } from "@/state/useTabTitle";
import FileLinks from "@/ui/FileLinks.vue";
import PasteField from "./PasteField.vue";
import RivalsFrame from "./RivalsFrame.vue";
import WhenChoice from "./WhenChoice.vue";

/** What several sellers carry together, what they dropped, and towards which brands and categories they lean. */
const { market } = useMarket();
const part = usePart();
useTabTitle(computed(() => "Carried together"));
type What = "listings" | "dropped" | "brands" | "categories";
const sellers = part("sellers", ([text]) => text ?? "", (text) => text, "push"); // prettier-ignore
const least = part("least", ([text]) => Math.max(Number(text) || 2, 1), (many) => (many === 2 ? "" : String(many)), "push"); // prettier-ignore
const what = part<What>("what", ([text]) => (text as What | undefined) ?? "listings", (text) => (text === "listings" ? "" : text), "push"); // prettier-ignore
const when = part("when", ([text]) => text ?? "now", (text) => (text === "now" ? "" : text), "push"); // prettier-ignore
const lacking = part("lacking", ([text]) => text === "yes", (on) => (on ? "yes" : ""), "push"); // prettier-ignore

/** What is typed or pasted; it is asked for once one says so. */
const pasted = ref("");
const asked = computed(() => ({
  market: market.value?.market_id ?? "",
  sellers: sellers.value,
  least: least.value,
  what: what.value,
  when: when.value,
  ...(lacking.value ? { lacking: "yes" as const } : {}),
}));
const found = useQuery(
  computed(() => ({
    ...rivalsQueries.together(asked.value),
    enabled: Boolean(market.value && sellers.value.trim()),
  })),
);
const own = useQuery(computed(() => ownQuery(market.value?.market_id)));
const failure = computed(() => found.error.value as ApiError | null);
const answer = computed(() => (failure.value ? undefined : found.data.value));
const ids = computed(() => (answer.value?.sellers ?? []).map((one) => one.id));
/** Once they are known by their ids, the address holds these, and more can be added to them. */
watch(ids, (list) => {
  if (list.length && !pasted.value) sellers.value = list.join("\n");
});
/** What named nobody stays until something else is pasted, though the address holds it no more. */
const nobody = ref<string[]>([]);
watch(answer, (told) => {
  if (told?.unknown.length) nobody.value = told.unknown;
});

function add(): void {
  nobody.value = [];
  sellers.value = [sellers.value, pasted.value].filter(Boolean).join("\n");
  pasted.value = "";
}
function leaveOut(id: string): void {
  sellers.value = ids.value.filter((one) => one !== id).join("\n");
}

const ofListings = computed(() => what.value === "listings" || what.value === "dropped");
const within = computed(() => ({ market: market.value?.market_id }));
const WHATS: { key: What; text: string }[] = [
  { key: "listings", text: "listings" },
  { key: "dropped", text: "dropped" },
  { key: "brands", text: "brands" },
  { key: "categories", text: "categories" },
];
const file = computed(() => {
  const query = Object.entries(asked.value).map(([key, value]) => [key, String(value)]);
  return `/api/rivals/together/file/?${new URLSearchParams(query).toString()}`;
});
const more = computed(() => {
  const { listings = [], groups = [], all_rows = 0 } = answer.value ?? {};
  const shown = listings.length + groups.length;
  return shown < all_rows ? `The first ${formatCount(shown)} stand here; the file has all.` : "";
});
const chanceOf = (chance: number): string =>
  chance < 0.001 ? "under 0.1%" : `${(chance * 100).toFixed(1)}%`;
</script>

<template>
  <RivalsFrame label="Carried together" title="What sellers carry together" explained="together">
    <PasteField
      v-model="pasted"
      label="Sellers"
      hint="Paste sellers: ids, names, or addresses with the id inside, in any form"
      :act="ids.length ? 'Add them' : 'Look'"
      @add="add"
    />
    <p v-if="failure" class="error" role="alert">{{ failure.message }}</p>
    <template v-if="answer">
      <ul class="chosen" aria-label="Chosen sellers">
        <li v-for="one in answer.sellers" :key="one.id">
          <RouterLink :to="{ path: '/seller', query: { ...within, seller: one.id } }">{{
            one.name
          }}</RouterLink>
          <span class="small"
            >{{ formatCount(one.listings) }} now{{ one.own ? ", my own" : "" }}</span
          >
          <v-btn
            variant="plain"
            class="out"
            :aria-label="`Leave out ${one.name}`"
            @click="leaveOut(one.id)"
            ><span aria-hidden="true">×</span></v-btn
          >
        </li>
      </ul>
      <p v-if="nobody.length" class="small" role="status">
        Nobody here is called {{ nobody.map((one) => `“${one}”`).join(", ") }}.
      </p>
    </template>
    <p v-if="sellers" class="choose">
      <v-btn-toggle v-model="what" mandatory aria-label="What of theirs">
        <v-btn
          v-for="one in WHATS"
          :key="one.key"
          :value="one.key"
          :aria-pressed="what === one.key"
          >{{ one.text }}</v-btn
        >
      </v-btn-toggle>
      <label>
        by at least
        <input
          v-model.lazy.number="least"
          type="number"
          min="1"
          :max="Math.max(ids.length, 1)"
          aria-label="At least so many of them"
        />
        of {{ ids.length || "…" }}
      </label>
      <WhenChoice
        v-model="when"
        :as-of="market?.as_of ?? ''"
        day-label="since"
        label="When they carried it"
      />
      <v-checkbox
        v-if="ofListings && own.data.value?.sellers.length"
        v-model="lacking"
        label="not carried by me yet"
      />
    </p>
    <template v-if="answer">
      <p class="found">
        <b role="status">{{ answer.sentence }}.</b> {{ more }}
        <FileLinks v-if="answer.all_rows" :address="file" :what="`the ${what}`" />
      </p>
      <p v-if="!ofListings" class="small">
        Told are those that more of them have than chance explains, given how large both are; at
        most 5% of those told are false discoveries.
      </p>
      <div v-if="answer.listings.length" class="scroller">
        <v-table density="compact">
          <thead>
            <tr>
              <th v-explain="'listing'" scope="col">listing</th>
              <th v-explain="'brand'" scope="col">brand</th>
              <th scope="col" class="number" data-tip="How many of the chosen sellers.">by</th>
              <th v-explain:figure="'listing.price'" scope="col" class="number">price</th>
              <th
                v-explain:figure="'sales.units_52w'"
                scope="col"
                class="number"
                data-tip="With ≈ estimated from its sales rank."
              >
                units/yr
              </th>
              <th v-explain:figure="'shape'" scope="col">shape</th>
              <th v-explain:figure="'sleep.state'" scope="col">sleeper</th>
              <th v-explain:figure="'sleep.order_by'" scope="col">order by</th>
              <th scope="col" data-tip="When the first of their offers of that time began.">
                since
              </th>
              <th scope="col" data-tip="When the last of these offers ended; now while one stands.">
                until
              </th>
              <th
                v-if="own.data.value?.sellers.length"
                scope="col"
                data-tip="Whether one of my own sellers carries it now."
              >
                mine
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in answer.listings" :key="one.listing_id">
              <th scope="row" class="title">
                <RouterLink
                  :to="{ path: '/listing', query: { ...within, listing: one.listing_id } }"
                  >{{ one.title }}</RouterLink
                >
                <span class="small">{{ one.category }}</span>
              </th>
              <td>{{ one.brand ?? UNKNOWN }}</td>
              <td class="number" :data-tip="one.carried_by.join(', ')">{{ one.sellers }}</td>
              <td class="number">{{ formatMoney(one.price) }}</td>
              <td class="number">
                {{ formatUnits(one.units_52w, one.estimated_units) }}
              </td>
              <td class="shape">
                <ShapeMark v-if="one.shape" :shape="one.shape" />{{ one.shape ?? UNKNOWN }}
              </td>
              <td>{{ one.sleep_state ?? "" }}</td>
              <td>{{ one.sleep_order_by ? formatDay(one.sleep_order_by) : "" }}</td>
              <td>{{ one.first_seen ? formatDay(one.first_seen) : UNKNOWN }}</td>
              <td>{{ one.last_seen ? formatDay(one.last_seen) : "now" }}</td>
              <td v-if="own.data.value?.sellers.length">{{ one.mine ? "yes" : "no" }}</td>
            </tr>
          </tbody>
        </v-table>
      </div>
      <div v-if="answer.groups.length" class="scroller">
        <v-table density="compact">
          <thead>
            <tr>
              <th v-explain="what === 'brands' ? 'brand' : 'category'" scope="col">
                {{ what === "brands" ? "brand" : "category" }}
              </th>
              <th scope="col" class="number" data-tip="How many of the chosen sellers have it.">
                by
              </th>
              <th
                scope="col"
                class="number"
                data-tip="How many would have it if each had drawn its listings at random from all."
              >
                by chance
              </th>
              <th
                scope="col"
                class="number"
                data-tip="Probability that at least so many have it by chance."
              >
                probability
              </th>
              <th scope="col" class="number" data-tip="Of its listings any of them has.">
                listings
              </th>
              <th scope="col" class="number" data-tip="Its listings that anyone offers.">of</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in answer.groups" :key="one.id">
              <th scope="row" class="title">
                <RouterLink
                  :to="
                    what === 'brands'
                      ? { path: '/brand', query: { ...within, brand: one.id } }
                      : { path: '/catalogue', query: { ...within, category: one.id } }
                  "
                  >{{ one.name }}</RouterLink
                >
              </th>
              <td class="number" :data-tip="one.carried_by.join(', ')">{{ one.sellers }}</td>
              <td class="number">{{ one.expected.toFixed(1) }}</td>
              <td class="number">{{ chanceOf(one.chance) }}</td>
              <td class="number">{{ formatCount(one.listings) }}</td>
              <td class="number">{{ formatCount(one.market_listings) }}</td>
            </tr>
          </tbody>
        </v-table>
      </div>
    </template>
    <p v-else-if="!sellers && !failure" class="small">
      Choose the sellers from whom you would learn: paste them here, or mark some in
      <RouterLink :to="{ path: '/rivals/sellers', query: within }">sellers</RouterLink>. Of one
      seller alone this is its storefront.
    </p>
  </RivalsFrame>
</template>

<style scoped>
.chosen {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 10px 0 4px;
  padding: 0;
  list-style: none;
}

.chosen li {
  display: flex;
  gap: 6px;
  align-items: baseline;
}

/* Fingers need 24 pixels (WCAG 2.2, 2.5.8). */
.out {
  min-width: 24px;
  min-height: 24px;
}

.found {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
  margin: 6px 0;
}

.title .small {
  display: block;
}

.shape svg {
  margin-right: 5px;
  vertical-align: -2px;
}
</style>
