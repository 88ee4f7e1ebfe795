<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { ApiError } from "@/api/client";
import { protectedQueries, type ProtectedRow, protectWord, releaseWord } from "@/api/protected";
import { analyse } from "@/api/registry";
import { formatCount } from "@/format/values";
import { useMarket } from "@/state/useMarket";
import { useTabTitle } from "@/state/useTabTitle";
import ScreenGate from "@/ui/ScreenGate.vue";
import SelectField from "@/ui/SelectField.vue";
import TextField from "@/ui/TextField.vue";

/** The list of words one must not sell under: written by hand, or imported as the table protected_words. */
type Match = ProtectedRow["match"];
const cache = useQueryClient();
const { market } = useMarket();
useTabTitle("Protected words");

const list = useQuery(computed(() => protectedQueries.words(market.value?.market_id)));
const failure = computed(() => list.error.value as ApiError | null);
const rows = computed(() => list.data.value ?? []);
const word = ref("");
const match = ref<Match>("exact");
const note = ref("");
const message = ref("");
/** Whether the list was changed here, so that an analysis is due. */
const changed = ref(false);
const gone = ref<ProtectedRow | null>(null);

const MATCHES: { title: string; value: Match }[] = [
  { title: "as a word by itself", value: "exact" },
  { title: "also inside a longer word", value: "contains" },
];
const how = (one: Match): string => MATCHES.find(({ value }) => value === one)?.title ?? one;

/** Changes the list and says what came of it; everything that holds a word is marked anew. */
async function change(work: () => Promise<unknown>, done: string): Promise<boolean> {
  try {
    await work();
    message.value = done;
    changed.value = true;
    await cache.invalidateQueries();
    return true;
  } catch (error) {
    message.value = (error as ApiError).message;
    changed.value = false;
    return false;
  }
}

async function add(): Promise<void> {
  const wanted = { word: word.value.trim(), match: match.value, note: note.value.trim() };
  if (!wanted.word) return;
  if (await change(() => protectWord(wanted), `“${wanted.word}” is on the list.`))
    word.value = note.value = "";
}

async function remove(one: ProtectedRow): Promise<void> {
  if (await change(() => releaseWord(one.word), `“${one.word}” removed.`)) gone.value = one;
}

async function again(): Promise<void> {
  if (!market.value) return;
  try {
    await analyse(market.value.market_id);
    message.value = `${market.value.name} is being analysed; the page Settings shows how far it is.`;
  } catch (error) {
    message.value = (error as ApiError).message;
  }
  changed.value = false;
}

async function bringBack(): Promise<void> {
  const one = gone.value;
  if (one && (await change(() => protectWord(one), `“${one.word}” is back.`))) gone.value = null;
}

/** The terms that hold one of these, in the ledger. */
const held = computed(() => ({
  path: "/terms",
  query: { market: market.value?.market_id, c: "holds a protected word = yes" },
}));
</script>

<template>
  <div class="protected">
    <ScreenGate :pending="!list.data.value" :failure="failure" @retry="list.refetch()">
      <header>
        <h1 class="serif"><span v-explain="'protected-word'">Protected words</span></h1>
        <p>
          Names one must not sell under. Terms, niches and listings that hold one are marked, and
          searches for them are counted apart, like those with brand words. It is a hint, no legal
          advice: whether a word is protected, where and for what, a register or a lawyer says.
        </p>
      </header>
      <form @submit.prevent="add">
        <TextField
          v-model="word"
          class="word"
          label="A protected word"
          placeholder="word or phrase"
        />
        <SelectField v-model="match" label="Where it counts" :items="MATCHES" />
        <TextField v-model="note" class="note" label="A note on it" placeholder="note" />
        <v-btn type="submit" :disabled="!word.trim()">Put on the list</v-btn>
      </form>
      <p v-if="message" class="told" role="status">
        {{ message }}
        <template v-if="changed">
          Marks and searches follow at once, ranks and headroom with the next analysis.
          <v-btn v-if="market" @click="again">Analyse {{ market.name }} now</v-btn>
        </template>
        <v-btn v-if="gone" @click="bringBack">Bring “{{ gone.word }}” back</v-btn>
      </p>
      <p v-if="!rows.length" class="small">
        No word is on the list. Write one, or import a table protected_words with the columns word,
        match and note.
      </p>
      <template v-else>
        <v-table>
          <thead>
            <tr>
              <th scope="col">word</th>
              <th scope="col">where it counts</th>
              <th scope="col">note</th>
              <th v-explain="'term'" scope="col" class="number">terms</th>
              <th v-explain:figure="'searches_52w'" scope="col" class="number">searches/yr</th>
              <th scope="col"><span class="unseen">remove</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in rows" :key="one.word">
              <th scope="row" class="serif">{{ one.word }}</th>
              <td>{{ how(one.match) }}</td>
              <td class="wide">{{ one.note }}</td>
              <td class="number">{{ formatCount(one.terms) }}</td>
              <td class="number">{{ formatCount(one.searches_52w) }}</td>
              <td class="number">
                <v-btn :aria-label="`Remove ${one.word}`" @click="remove(one)">Remove</v-btn>
              </td>
            </tr>
          </tbody>
        </v-table>
        <p class="acts">
          <v-btn v-if="market" :to="held">Terms that hold one, in {{ market.name }}</v-btn>
          <v-btn href="/api/protected-words/file/" download>Export as CSV</v-btn>
        </p>
      </template>
    </ScreenGate>
  </div>
</template>

<style scoped>
.protected {
  max-width: 1000px;
  padding: 14px var(--gutter) 24px;
}

h1 {
  margin: 0 0 4px;
  font-size: 22px;
}

header p {
  max-width: 72ch;
  margin: 0 0 12px;
}

form {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 8px 18px;
}

.word {
  flex: 0 1 200px;
}

.note {
  flex: 1 1 220px;
}

.told {
  margin: 8px 0;
}

.wide {
  width: 40%;
}

th,
td {
  overflow-wrap: anywhere;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
}
</style>
