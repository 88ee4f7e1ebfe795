<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { useLocalStorage } from "@vueuse/core";
import { computed, nextTick, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { ApiError } from "@/api/client";
import { drawWord, termsQueries } from "@/api/terms";
import { formatCount } from "@/format/values";
import TermActs from "@/screens/parts/grouping/TermActs.vue";
import LedgerView from "@/screens/parts/ledger/LedgerView.vue";
import { KINDS, provideKind } from "@/state/useKind";
import { useListState } from "@/state/useListState";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { useSeedState } from "@/state/useSeedState";
import { useShortcuts } from "@/state/useShortcuts";
import { useTabTitle } from "@/state/useTabTitle";
import { TERM_COLUMNS } from "./columns";
import LetterStrip from "./LetterStrip.vue";
import SeedLine from "./SeedLine.vue";
import { tellGrowth } from "./steps";
import RelatedSheet from "./RelatedSheet.vue";
import WordsBeside from "./WordsBeside.vue";

const route = useRoute();
const router = useRouter();
const { market } = useMarket();
const { notify } = useNotice();
const state = useListState(provideKind(KINDS.terms));
const { words, how, without, exact, after, before, go, drawn, seed } = useSeedState();
useTabTitle(computed(() => (words.value.length ? `${words.value.join(" ")} · Terms` : "Terms")));

const ledger = ref<InstanceType<typeof LedgerView> | null>(null);
const onward = useQuery(
  computed(() => ({
    ...termsQueries.onward({ ...state.ask.value, seed: "", ...seed.value }),
    enabled: seed.value !== undefined,
  })),
);
const found = computed(() => (seed.value ? onward.data.value : undefined));
/** Which side of the seed the strip tells of. */
const side = ref<"after" | "before">("after");
const prefix = computed(() => (side.value === "after" ? after.value : before.value));
const letters = computed(() => [
  ...(before.value ? [`${before.value}… before`] : []),
  ...(after.value ? [`${after.value}…`] : []),
]);
/** Whether terms related to the selected one are shown beside the list. */
const besideOpen = useLocalStorage("driftfield.related", false);
const acts = ref<InstanceType<typeof TermActs> | null>(null);
const seedLine = ref<InstanceType<typeof SeedLine> | null>(null);

function letter(name: string): void {
  const other = side.value === "after" ? { before: before.value } : { after: after.value };
  go(words.value, { ...other, [side.value]: name });
}

async function draw(number = 1 + Math.floor(Math.random() * 999_999)): Promise<void> {
  try {
    const { seed } = await drawWord(market.value?.market_id, number);
    go([seed], { drawn: number });
  } catch (error) {
    notify((error as ApiError).message);
  }
}

// An address that names a number and no word draws it again.
watch(
  [() => market.value?.market_id, drawn],
  ([id, number]) => {
    if (id && number && !words.value.length) void draw(number);
  },
  { immediate: true },
);

/** From another term, without what narrowed the search for this one. */
function begin(term: string): void {
  const { market, sort, lens } = route.query;
  void router.push({ path: route.path, query: { market, sort, lens, word: term } });
}

function openNiche({ niche }: { niche: string }): void {
  const of = route.query["market"] ? { market: route.query["market"] } : {};
  void router.push({ path: "/dossier", query: { ...of, niche }, hash: "#terms" });
}

useShortcuts([
  {
    keys: ["b"],
    does: "Open or close what is related to the term",
    run: () => (besideOpen.value = !besideOpen.value),
  },
  {
    keys: ["m"],
    does: "Make a niche of the marked terms",
    run: () => (acts.value ? acts.value.begin() : notify("Mark terms first, with the space bar.")),
  },
  { keys: ["r"], does: "Draw a word at random", run: () => void draw() },
  { keys: ["/"], does: "Type a word", run: () => void nextTick(() => seedLine.value?.focus()) },
]);
</script>

<template>
  <LedgerView ref="ledger" :state="state" label="Terms" :usual="TERM_COLUMNS" @open="openNiche">
    <template #top>
      <SeedLine
        ref="seedLine"
        v-model:how="how"
        v-model:without="without"
        v-model:exact="exact"
        :words="words"
        :letters="letters"
        :drawn="drawn"
        @begin="(text) => go([text])"
        @cut="(many) => go(words.slice(0, many))"
        @draw="draw()"
      />
      <p class="told" role="status">
        <template v-if="found">
          <span v-explain="'seed-volume'"
            ><b>{{ formatCount(found.terms) }}</b> {{ found.terms === 1 ? "term" : "terms" }}
            <template v-if="found.searches_52w !== null"
              >· <b>{{ formatCount(found.searches_52w) }}</b> searches a year</template
            ><template v-else-if="found.terms">· searches unknown</template>
            <template v-if="tellGrowth(found)">
              · {{ tellGrowth(found) }} on the year before</template
            ></span
          >
        </template>
        <template v-else-if="!seed && ledger?.ready"
          >{{ formatCount(ledger.total) }} terms, most searched first. Type a word, or draw one at
          random.</template
        >
        <RouterLink class="from" :to="{ path: '/grouping', query: { market: market?.market_id } }"
          >Niches from terms</RouterLink
        >
        <RouterLink class="from" :to="{ path: '/lists', query: { market: market?.market_id } }"
          >Lists</RouterLink
        >
      </p>
      <div v-if="found?.terms" class="onward">
        <section class="next" aria-label="What buyers type next">
          <h2 class="small">
            <span v-explain="'going-on'">by letter, searches a year:</span>
            <v-btn-toggle v-model="side" mandatory aria-label="Which side of the seed">
              <v-btn value="after" :aria-pressed="side === 'after'">what comes next</v-btn>
              <v-btn value="before" :aria-pressed="side === 'before'">what comes before</v-btn>
            </v-btn-toggle>
            <v-btn v-if="prefix" @click="go(words, side === 'after' ? { before } : { after })"
              >all letters</v-btn
            >
          </h2>
          <LetterStrip
            v-if="found[side].length"
            :steps="found[side]"
            :prefix="prefix"
            :label="side === 'after' ? 'Letters of the next word' : 'Letters of the word before'"
            @choose="letter"
          />
          <p v-else class="small">
            {{ side === "after" ? "Nothing comes after it." : "Nothing comes before it." }}
          </p>
        </section>
        <section class="beside" aria-label="Words beside it">
          <h2 class="small"><span v-explain="'words-beside'">words beside it</span></h2>
          <WordsBeside
            v-if="found.beside.length"
            :steps="found.beside"
            @add="(word) => go([...words, word])"
          />
          <p v-else class="small">No other word: it stands alone.</p>
        </section>
      </div>
    </template>
    <template #marked="{ marked, clear }">
      <TermActs
        v-if="market"
        ref="acts"
        :market="market.market_id"
        :terms="marked"
        copies
        @done="clear"
      />
    </template>
    <template #acts>
      <v-btn class="small" :aria-expanded="besideOpen" @click="besideOpen = !besideOpen"
        >Related</v-btn
      >
    </template>
    <template #beside="{ id }">
      <RelatedSheet
        v-if="besideOpen && market"
        :market="market.market_id"
        :term="id"
        @close="besideOpen = false"
        @go="begin"
      />
    </template>
    <template #nothing>
      <p class="nothing">
        No term {{ how === "any" ? "has any of" : "has" }} “{{ words.join(" ") }}”{{
          without ? ` without “${without}”` : ""
        }}.
        {{
          exact
            ? "Try it without exact spelling."
            : how === "inside"
              ? "Try fewer letters."
              : "Try fewer words, or its letters inside words."
        }}
      </p>
    </template>
  </LedgerView>
</template>

<style scoped>
.told {
  min-height: 20px;
  margin: 0;
  padding: 0 20px 6px;
}

.from {
  margin-left: 14px;
  color: var(--q5);
}

.onward {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 28px;
  padding: 0 20px 6px;
  border-bottom: 1px solid var(--rule);
  background: var(--page);
}

.next {
  flex: 3 1 420px;
  min-width: 0;
}

.beside {
  flex: 2 1 280px;
  min-width: 0;
}

h2.small {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 4px 0;
  font-weight: 400;
}

.nothing {
  flex: 1;
  margin: 0;
  padding: 24px 20px;
}
</style>
