<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";
import { ApiError } from "@/api/client";
import { familyQueries, type FamilyRow } from "@/api/families";
import { formatCount } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useMarket } from "@/state/useMarket";
import { useShortcuts } from "@/state/useShortcuts";
import { useTabTitle } from "@/state/useTabTitle";
import EmptyView from "@/ui/EmptyView.vue";
import FamilyPane from "./FamilyPane.vue";

/** Niches that one brand could serve together: all families of a market, and one of them close up. */
const NOT_FOUND = 404;
const route = useRoute();
const router = useRouter();
const { market } = useMarket();

const list = useQuery(computed(() => familyQueries.all(market.value?.market_id)));
const families = computed(() => list.data.value?.families ?? []);
/** The niche the address names, or that of the first family. */
const niche = computed(() => {
  const named = route.query["niche"];
  return typeof named === "string" ? named : families.value[0]?.niche;
});
/** Niches that were marked to be looked at together. */
const chosen = computed(() =>
  [route.query["chosen"] ?? []].flat().filter((one): one is string => typeof one === "string"),
);
const family = useQuery(
  computed(() => ({
    ...familyQueries.of(market.value?.market_id ?? "", niche.value ?? ""),
    enabled: Boolean(market.value && niche.value && !chosen.value.length),
    retry: false,
  })),
);
const together = useQuery(
  computed(() => ({
    ...familyQueries.chosen(market.value?.market_id ?? "", chosen.value),
    enabled: Boolean(market.value && chosen.value.length),
    retry: false,
  })),
);
const asked = computed(() => (chosen.value.length ? together : family));
const found = computed(() => asked.value.data.value);
/** Why those that were chosen cannot be shown. */
const refused = computed(() => (chosen.value.length ? together.error.value?.message : undefined));
const alone = computed(() => {
  const error = chosen.value.length ? null : family.error.value;
  return error instanceof ApiError && error.status === NOT_FOUND ? error.message : "";
});
useTabTitle(computed(() => (found.value ? `${found.value.name} · Families` : "Families")));

const isOpen = (one: FamilyRow): boolean =>
  !chosen.value.length && one.niche === found.value?.niche;
const ENOUGH = (one: FamilyRow): string =>
  one.enough === null ? "not known" : one.enough ? "enough" : "not enough";

function open(one: FamilyRow | undefined): void {
  if (one) void router.push({ query: { market: market.value?.market_id, niche: one.niche } });
}

function walk(steps: number): void {
  const at = families.value.findIndex(isOpen);
  open(families.value[Math.min(families.value.length - 1, Math.max(0, at + steps))]);
}

useShortcuts([
  { keys: ["ArrowDown", "j"], label: "↓", does: "Next family", run: () => walk(1) },
  { keys: ["ArrowUp"], label: "↑", does: "Family before", run: () => walk(-1) },
  {
    keys: ["Enter"],
    does: "Open the dossier of its first niche",
    run: () =>
      void router.push({
        path: "/dossier",
        query: { market: market.value?.market_id, niche: niche.value },
      }),
  },
]);
</script>

<template>
  <div class="families">
    <MarketGate :pending="!list.data.value" :failure="list.error.value" @retry="list.refetch()">
      <EmptyView
        v-if="!list.data.value?.known && !chosen.length"
        title="Families are not known"
        text="They are looked for in markets of up to 20,000 niches that have counts of searches, with their next analysis. Of more, bin/driftfield families finds them."
      />
      <EmptyView
        v-else-if="!families.length && !chosen.length"
        title="No two niches belong together"
        text="No brand or seller carries two of them beyond chance, no buyers click in two of them, and no two of one category share words."
      />
      <template v-else-if="market">
        <nav class="list" aria-label="Families">
          <h1 class="serif"><span v-explain="'family'">Families</span></h1>
          <p v-if="chosen.length" class="small">
            Shown: {{ chosen.length }} niches that you marked in the Field.
          </p>
          <ul>
            <li v-for="one in families" :key="one.niche">
              <button :aria-current="isOpen(one)" @click="open(one)">
                <span class="serif name">{{ one.name }}</span>
                <span class="small"
                  >{{ formatCount(one.searches_52w) }} searches/yr · {{ one.wanted }} of
                  {{ one.goods }} in the band · {{ ENOUGH(one) }} · {{ one.ties.join(", ") }}</span
                >
              </button>
            </li>
          </ul>
        </nav>
        <div class="shown" tabindex="0" role="region" aria-label="The family close up">
          <EmptyView v-if="refused" title="They cannot be shown together" :text="refused" />
          <EmptyView v-else-if="alone" title="It has no family" :text="alone" />
          <FamilyPane v-else-if="found" :family="found" :market="market" />
        </div>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.families {
  display: flex;
  height: 100%;
}

.list {
  flex: none;
  width: 320px;
  overflow-y: auto;
  scrollbar-width: thin;
  padding: 12px 0 12px var(--gutter);
  border-right: 1px solid var(--rule);
}

h1 {
  margin: 0 0 6px;
  font-size: 18px;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

button {
  display: block;
  width: 100%;
  padding: 5px 10px 6px 0;
  border: 0;
  border-bottom: 1px solid var(--rule);
  background: none;
  color: inherit;
  cursor: pointer;
  text-align: left;
}

button[aria-current="true"] {
  background: var(--ochre-wash);
}

button .name {
  display: block;
  font-size: 15px;
  line-height: 1.2;
  overflow-wrap: anywhere;
}

button .small {
  display: block;
  line-height: 1.25;
}

.shown {
  flex: 1;
  min-width: 0;
  overflow-y: auto;
}

@media (max-width: 760px) {
  .families {
    display: block;
    height: auto;
  }

  .list {
    width: auto;
    max-height: 240px;
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }

  .shown {
    overflow-x: auto;
  }
}
</style>
