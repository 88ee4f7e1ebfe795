<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { ApiError } from "@/api/client";
import { dropTerms, listQueries, removeList, saveList } from "@/api/lists";
import { formatCount, UNKNOWN } from "@/format/values";
import { useMarket } from "@/state/useMarket";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useCopy } from "@/state/useCopy";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import FileLinks from "@/ui/FileLinks.vue";

/** Named lists of terms, to take along: what they come to, copied or as files. */
const route = useRoute();
const router = useRouter();
const cache = useQueryClient();
const { market } = useMarket();
const { notify } = useNotice();
const copy = useCopy();

const lists = useQuery(computed(() => listQueries.all(market.value?.market_id)));
const standing = computed(() => (lists.data.value ?? []).filter((one) => !one.removed));
const removed = computed(() => (lists.data.value ?? []).filter((one) => one.removed));
/** The list that the address names; else the first. */
const name = computed(() => {
  const named = route.query["list"];
  return typeof named === "string" ? named : (standing.value[0]?.name ?? "");
});
useTabTitle(computed(() => (name.value ? `${name.value} · Lists` : "Lists of terms")));
const list = useQuery(
  computed(() => ({
    ...listQueries.of(market.value?.market_id ?? "", name.value),
    enabled: Boolean(market.value && standing.value.some((one) => one.name === name.value)),
  })),
);
const found = computed(() => list.data.value);
const address = computed(() => {
  const query = { market: market.value?.market_id ?? "", name: name.value };
  return `/api/word-lists/file/?${new URLSearchParams(query).toString()}`;
});
const terms = (many: number): string => `${formatCount(many)} ${many === 1 ? "term" : "terms"}`;
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
const drop = (term: string): Promise<void> =>
  change(
    () => dropTerms({ market_id: market_id.value, name: name.value, terms: [term] }),
    `“${term}” is off the list.`,
  );
const back = (one: string): Promise<void> =>
  change(
    () => saveList({ market_id: market_id.value, name: one, replace: false }),
    `“${one}” is back.`,
  );

async function remove(): Promise<void> {
  const one = name.value;
  await change(() => removeList(market_id.value, one), `“${one}” removed; it can be brought back.`);
  await router.replace({ query: { ...route.query, list: undefined } });
}

const copied = (): Promise<void> => {
  const all = (found.value?.rows ?? []).map((row) => row.term);
  const done = `${terms(all.length)} copied, a line each.`;
  return copy(all.join("\n"), done, "export the list instead");
};
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
          <h1 class="serif">Lists of terms</h1>
          <p v-if="!standing.length">
            No list yet. Mark terms in the
            <RouterLink :to="{ path: '/terms', query: { market: market_id } }"
              >ledger of terms</RouterLink
            >
            with the space bar and put them on one; its total, copies and files are here.
          </p>
          <ul>
            <li v-for="one in standing" :key="one.name" :class="{ chosen: one.name === name }">
              <RouterLink
                class="serif"
                :aria-current="one.name === name ? 'page' : undefined"
                :to="{ query: { market: market_id, list: one.name } }"
                >{{ one.name }}</RouterLink
              >
              <span class="small"
                >{{ terms(one.total.terms)
                }}<template v-if="one.total.searches_52w !== null"
                  >, {{ formatCount(one.total.searches_52w) }} searches a year</template
                ></span
              >
            </li>
          </ul>
          <p v-for="one in removed" :key="one.name" class="small gone">
            {{ one.name }}, removed
            <v-btn :disabled="busy" @click="back(one.name)">Bring back</v-btn>
          </p>
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
            >.
          </p>
          <p class="acts">
            <v-btn @click="copied">Copy all</v-btn>
            <FileLinks :address="address" :what="terms(found.total.terms)" />
            <v-btn :disabled="busy" @click="remove">Remove the list</v-btn>
          </p>
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
