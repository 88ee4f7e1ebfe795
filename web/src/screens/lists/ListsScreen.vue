<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { type ApiError, TERMS } from "@/api/client";
import {
  dropEntries,
  type ListedKind,
  type ListedThing,
  listQueries,
  removeList,
  saveList,
} from "@/api/lists";
import { formatMoney } from "@/format/money";
import { formatCount, formatDay, UNKNOWN } from "@/format/values";
import { useMarket } from "@/state/useMarket";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useCopy } from "@/state/useCopy";
import { howMany, KINDS, useKindNamed } from "@/state/useKind";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import { useTyped } from "@/state/useTyped";
import FileLinks from "@/ui/FileLinks.vue";
import TextField from "@/ui/TextField.vue";

/** Named lists of terms, listings, brands or sellers, to take along: what they come to, copied or as files. */
const route = useRoute();
const router = useRouter();
const cache = useQueryClient();
const { market } = useMarket();
const { notify } = useNotice();
const copy = useCopy();

/** What lists can be of; the screen is made anew for another. */
const LISTED = [KINDS.terms, KINDS.listings, KINDS.brands, KINDS.sellers];
const kind = useKindNamed(LISTED);
const of = kind.of as ListedKind;
const ofTerms = kind.of === TERMS;

const lists = useQuery(computed(() => listQueries.all(market.value?.market_id, of)));
const standing = computed(() => (lists.data.value ?? []).filter((one) => !one.removed));
const removed = computed(() => (lists.data.value ?? []).filter((one) => one.removed));
/** The list that the address names; else the first. */
const name = computed(() => {
  const named = route.query["list"];
  return typeof named === "string" ? named : (standing.value[0]?.name ?? "");
});
useTabTitle(computed(() => (name.value ? `${name.value} · Lists` : `Lists of ${kind.many}`)));
const list = useQuery(
  computed(() => ({
    ...listQueries.of(market.value?.market_id ?? "", of, name.value),
    enabled: Boolean(market.value && standing.value.some((one) => one.name === name.value)),
  })),
);
const found = computed(() => list.data.value);
const address = computed(() => {
  const query = { market: market.value?.market_id ?? "", of, name: name.value };
  return `/api/word-lists/file/?${new URLSearchParams(query).toString()}`;
});
const terms = (many: number): string => howMany(kind, many);
/** Units a year, those that are estimated marked as such. */
const unitsOf = (one: ListedThing): string => {
  const guess = one.listing_estimated_units ?? one.carried_estimated_units;
  return one.sales_units_52w === null && guess !== null
    ? `≈${formatCount(guess)}`
    : formatCount(one.sales_units_52w);
};
const rate = (value: number | null): string =>
  value === null ? UNKNOWN : `${(value * 100).toFixed(1)}%`;
const busy = ref(false);

async function change(work: () => Promise<unknown>, done: string): Promise<void> {
  busy.value = true;
  try {
    await work();
    notify(done);
  } catch (error) {
    notify(`Nothing was changed. ${(error as ApiError).message}`, true);
  }
  // First which lists there are, so that one that was removed is not asked for.
  await lists.refetch();
  await cache.invalidateQueries({ queryKey: ["lists"] });
  busy.value = false;
}

const market_id = computed(() => market.value?.market_id ?? "");
const drop = (term: string, called = term): Promise<void> =>
  change(
    () => dropEntries({ market_id: market_id.value, of, name: name.value, terms: [term] }),
    `“${called}” is off the list.`,
  );
const back = (one: string): Promise<void> =>
  change(() => saveList({ market_id: market_id.value, of, name: one }), `“${one}” is back.`);

async function remove(): Promise<void> {
  const one = name.value;
  await change(
    () => removeList(market_id.value, of, one),
    `“${one}” removed; it can be brought back.`,
  );
  await router.replace({ query: { ...route.query, list: undefined } });
}

const copied = (): Promise<void> => {
  const { rows = [], things = [] } = found.value ?? {};
  const all = [...rows.map((row) => row.term), ...things.map((one) => one.id)];
  const done = `${terms(all.length)} copied, a line each.`;
  return copy(all.join("\n"), done, "export the list instead");
};

/** Ids that are pasted go onto the list one looks at, or onto a new one. */
const pasted = ref("");
const wanted = ref("");
const unknown = ref<string[]>([]);
async function paste(): Promise<void> {
  const list = wanted.value.trim() || name.value;
  if (!list || !pasted.value.trim()) return;
  await change(async () => {
    const made = await saveList({
      market_id: market_id.value,
      of,
      name: list,
      pasted: pasted.value,
    });
    unknown.value = made.unknown;
    pasted.value = wanted.value = "";
    await router.replace({ query: { ...route.query, list: made.name } });
  }, `On the list “${list}”.`);
}

/** A note on the list; what is typed stands until it is kept. */
const noted = computed(() => ({ id: name.value, note: found.value?.note ?? "" }));
const note = useTyped(
  () => noted.value,
  (one) => one.note,
  async (one, text) => {
    try {
      const made = await saveList({ market_id: market_id.value, of, name: one.id, note: text });
      cache.setQueryData(listQueries.of(market_id.value, of, one.id).queryKey, made);
      return true;
    } catch (error) {
      notify(`The note is not kept. ${(error as ApiError).message}`, true);
      return false;
    }
  },
);
</script>

<template>
  <div class="lists">
    <MarketGate
      :pending="!lists.data.value || !market"
      :failure="lists.error.value"
      @retry="lists.refetch()"
    >
      <template v-if="market">
        <nav aria-label="Lists">
          <h1 class="serif">Lists of {{ kind.many }}</h1>
          <p class="kinds">
            <RouterLink
              v-for="one in LISTED"
              :key="one.of"
              :aria-current="one.of === of ? 'true' : undefined"
              :to="{ query: { market: market_id, of: one.of === TERMS ? undefined : one.of } }"
              >{{ one.many }}</RouterLink
            >
          </p>
          <p v-if="!standing.length">
            No list yet. Mark {{ kind.many }} in the
            <RouterLink :to="{ path: kind.home, query: { market: market_id } }"
              >ledger of {{ kind.many }}</RouterLink
            >
            with the space bar and put them on one; its total, copies and files are here.
          </p>
          <ul>
            <li v-for="one in standing" :key="one.name" :class="{ chosen: one.name === name }">
              <RouterLink
                class="serif"
                :aria-current="one.name === name ? 'page' : undefined"
                :to="{ query: { ...route.query, list: one.name } }"
                >{{ one.name }}</RouterLink
              >
              <span class="small"
                >{{ terms(one.total.terms)
                }}<template v-if="one.total.searches_52w !== null"
                  >, {{ formatCount(one.total.searches_52w) }} searches a year</template
                ><template v-if="one.total.units_52w !== null"
                  >, {{ formatCount(one.total.units_52w) }} units a year</template
                ></span
              >
            </li>
          </ul>
          <p v-for="one in removed" :key="one.name" class="small gone">
            {{ one.name }}, removed
            <v-btn :disabled="busy" @click="back(one.name)">Bring back</v-btn>
          </p>
          <form v-if="!ofTerms" class="paste" @submit.prevent="paste">
            <v-textarea
              v-model="pasted"
              rows="1"
              auto-grow
              :aria-label="`Ids of ${kind.many}`"
              :placeholder="`paste ids of ${kind.many}, in any form`"
            />
            <TextField
              v-model="wanted"
              label="Name of the list to put them on"
              :placeholder="name ? `on “${name}”, or a new name` : 'name of the list'"
            />
            <v-btn type="submit" :disabled="busy || !pasted.trim() || !(wanted.trim() || name)"
              >Put on the list</v-btn
            >
            <p v-if="unknown.length" class="small" role="status">
              No {{ kind.one }} here, and left out:
              {{ unknown.map((one) => `“${one}”`).join(", ") }}.
            </p>
          </form>
        </nav>
        <section v-if="found" :aria-label="found.name">
          <h2 class="serif">{{ found.name }}</h2>
          <p>
            <span v-explain="'list-total'"
              ><b>{{ terms(found.total.terms) }}</b
              ><template v-if="found.total.searches_52w !== null"
                >, <b>{{ formatCount(found.total.searches_52w) }}</b> searches a year</template
              ></span
            ><template v-if="found.total.mistyped"
              >; {{ formatCount(found.total.mistyped) }} likely mistyped with
              {{ formatCount(found.total.mistyped_searches) }} searches not added</template
            ><template v-if="found.total.known < found.total.terms"
              >; {{ formatCount(found.total.terms - found.total.known) }} not in this market’s
              figures now</template
            ><template v-if="found.total.units_52w !== null"
              >; {{ formatCount(found.total.units_52w) }} units a year where they are
              known</template
            >.
          </p>
          <TextField
            v-if="!ofTerms"
            v-model="note.text.value"
            class="note"
            label="Note on the list"
            placeholder="a note"
            @blur="note.leave"
            @keydown.enter="note.leave"
          />
          <p class="acts">
            <v-btn @click="copied">Copy all</v-btn>
            <FileLinks :address="address" :what="terms(found.total.terms)" />
            <v-btn :disabled="busy" @click="remove">Remove the list</v-btn>
          </p>
          <div v-if="!ofTerms" class="wide">
            <v-table>
              <thead>
                <tr>
                  <th v-explain="kind.one" scope="col">{{ kind.one }}</th>
                  <th v-explain:figure="'sales.units_52w'" scope="col" class="number">units/yr</th>
                  <th
                    v-explain:figure="of === 'listings' ? 'listing.price' : 'carried.price'"
                    scope="col"
                    class="number"
                  >
                    price
                  </th>
                  <th v-if="of === 'listings'" v-explain:figure="'sleep.state'" scope="col">
                    sleeper
                  </th>
                  <th v-if="of === 'listings'" v-explain:figure="'sleep.order_by'" scope="col">
                    order by
                  </th>
                  <th v-else v-explain:figure="'carried.listings'" scope="col" class="number">
                    listings
                  </th>
                  <th scope="col"><span class="unseen">take off</span></th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="one in found.things" :key="one.id">
                  <th scope="row">
                    <RouterLink
                      v-if="one.known"
                      :to="{
                        path: kind.page ?? '',
                        query: { market: market_id, [kind.named]: one.id },
                      }"
                      >{{ one.name }}</RouterLink><template v-else>{{ one.name }}</template>
                    <span class="small where">
                      {{ one.known ? one.category : "not in the figures now" }}</span
                    >
                  </th>
                  <td class="number">{{ unitsOf(one) }}</td>
                  <td class="number">{{ formatMoney(one.listing_price ?? one.carried_price) }}</td>
                  <td v-if="of === 'listings'">{{ one.sleep_state ?? "" }}</td>
                  <td v-if="of === 'listings'">
                    {{ one.sleep_order_by ? formatDay(one.sleep_order_by) : "" }}
                  </td>
                  <td v-else class="number">{{ formatCount(one.carried_listings) }}</td>
                  <td class="number">
                    <v-btn
                      :disabled="busy"
                      :aria-label="`Take ${one.name} off the list`"
                      @click="drop(one.id, one.name)"
                      >Take off</v-btn
                    >
                  </td>
                </tr>
              </tbody>
            </v-table>
          </div>
          <div v-else class="wide">
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
                <tr v-for="one in found.rows" :key="one.term">
                  <th scope="row">
                    <RouterLink
                      v-if="one.known"
                      :to="{ path: '/terms', query: { market: market_id, term: one.term } }"
                      >{{ one.term }}</RouterLink><template v-else>{{ one.term }}</template>
                    <span v-if="one.misspelt_of" class="small mark">
                      likely mistyped, of “{{ one.misspelt_of }}”</span
                    >
                    <span v-if="!one.known" class="small"> not in the figures now</span>
                    <span v-if="one.protected === 'yes'" class="small mark">
                      holds a protected word</span
                    >
                    <span v-if="one.branded === 'yes'" class="small"> names a brand</span>
                  </th>
                  <td class="number">{{ formatCount(one.searches_52w) }}</td>
                  <td class="number">{{ rate(one.purchase_rate) }}</td>
                  <td>
                    <RouterLink
                      v-if="one.niche"
                      :to="{ path: '/dossier', query: { market: market_id, niche: one.niche } }"
                      >{{ one.niche_name }}</RouterLink><template v-else>{{ UNKNOWN }}</template>
                  </td>
                  <td class="number">
                    <v-btn
                      :disabled="busy"
                      :aria-label="`Take ${one.term} off the list`"
                      @click="drop(one.term)"
                      >Take off</v-btn
                    >
                  </td>
                </tr>
              </tbody>
            </v-table>
          </div>
        </section>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.lists {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  gap: 10px 34px;
  max-width: 1180px;
  padding: 14px var(--gutter) 24px;
}

h1 {
  margin: 0 0 8px;
  font-size: 22px;
}

h2 {
  margin: 2px 0 4px;
  font-size: 20px;
  overflow-wrap: anywhere;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  flex-direction: column;
  padding: 5px 8px;
  border-left: 3px solid transparent;
  overflow-wrap: anywhere;
}

.chosen {
  border-left-color: var(--ochre);
  background: var(--ochre-wash);
}

a {
  color: var(--q5);
}

.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0 0 8px;
}

.kinds a {
  color: var(--ink2);
  text-decoration: none;
  line-height: 24px;
}

.kinds a[aria-current] {
  color: var(--ink);
  font-weight: 600;
  border-bottom: 2px solid var(--ochre);
}

.paste {
  display: grid;
  gap: 6px;
  justify-items: start;
  margin-top: 14px;
}

.paste > * {
  width: 100%;
}

.paste > button {
  width: auto;
}

.where {
  margin-left: 6px;
}

.note {
  max-width: 520px;
}

.gone {
  margin: 8px 0 0;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
  margin: 8px 0;
}

.wide {
  overflow-x: auto;
}

.wide th,
.wide td {
  min-width: 90px;
  max-width: 40ch;
  overflow-wrap: anywhere;
}

.mark {
  color: var(--ochre-text);
}

@media (max-width: 760px) {
  .lists {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
