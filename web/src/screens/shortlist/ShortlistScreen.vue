<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref, shallowRef, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Choice } from "@/api/client";
import { registryQueries } from "@/api/registry";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import MonthHeader from "@/marks/MonthHeader.vue";
import YearStrip from "@/marks/YearStrip.vue";
import EmptyView from "@/ui/EmptyView.vue";
import MarketGate from "@/screens/parts/MarketGate.vue";
import FileLinks from "@/ui/FileLinks.vue";
import { formatDay, yearShare } from "@/format/values";
import { useDecisions } from "@/state/useDecisions";
import { useMarked } from "@/state/useMarked";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import { useMarket } from "@/state/useMarket";
import EntryFoot from "./EntryFoot.vue";
import ThenNow from "./ThenNow.vue";
import { type Entry, type Listed, useEntries } from "./useEntries";

const FIGURES = ["headroom", "drift_rate_year", "searches_52w", "sales.price_median", "order_by"];
const HEADS = ["headroom", "drift a year", "searches/yr", "price", "order by"];

const route = useRoute();
const router = useRouter();
const { market, id } = useMarket();
useTabTitle("Shortlist");
const figures = useQuery(registryQueries.figures());
const { decide, undo } = useDecisions();

/** Which decisions are listed stands in the address, as “kept,passed”. */
const choices = computed<Listed[]>({
  get: () => {
    const wanted = String(route.query["show"] ?? "keep,park").split(",");
    return (["keep", "park", "pass"] as const).filter((one) => wanted.includes(one));
  },
  set: (list) => void router.replace({ query: { ...route.query, show: list.join(",") } }),
});
const tag = computed({
  get: () => String(route.query["tag"] ?? ""),
  set: (word) => void router.push({ query: { ...route.query, tag: word || undefined } }),
});
const { list, entries, tags, saveTags, explain, move } = useEntries(id, choices, tag);
const { marked, isMarked, toggle, clear } = useMarked();

/** The selected niche, which the address repeats; where it is gone, the one at its place is selected. */
const selected = ref(String(route.query["niche"] ?? ""));
const last = ref(0);
watch(
  () => route.query["niche"],
  (niche) => typeof niche === "string" && (selected.value = niche),
);
const place = computed({
  get: () => {
    const named = entries.value.findIndex((one) => one.id === selected.value);
    return named >= 0 ? named : Math.max(0, Math.min(last.value, entries.value.length - 1));
  },
  set: (at) => {
    const niche = entries.value[at]?.id;
    if (!niche) return;
    last.value = at;
    selected.value = niche;
    void router.replace({ query: { ...route.query, niche } });
  },
});
const entry = computed<Entry | undefined>(() => entries.value[place.value]);
const foot = ref<InstanceType<typeof EntryFoot> | null>(null);
watch(place, async (at) => {
  await nextTick();
  document.getElementById(`entry-${at}`)?.scrollIntoView({ block: "nearest" });
});

const figureOf = (key: string) => figures.data.value?.find((one) => one.key === key);
const wanted = computed(() =>
  marked.value.filter((one) => entries.value.some((e) => e.id === one)),
);
const file = computed(
  () =>
    `/api/desk/shortlist/file/?${new URLSearchParams([
      ["market", id.value ?? ""],
      ...choices.value.map((one) => ["choice", one]),
    ])}`,
);
const toNiches = (path: string, niches: string[]) => ({
  path,
  query: { market: id.value, niche: niches },
});
const briefed = computed(() =>
  wanted.value.length ? wanted.value : entries.value.map((one) => one.id),
);

function show(choice: Listed, on: boolean): void {
  choices.value = on ? [...choices.value, choice] : choices.value.filter((one) => one !== choice);
}

function walk(steps: number): void {
  place.value = Math.max(0, Math.min(entries.value.length - 1, place.value + steps));
}

function decideOn(one: Entry | undefined, choice: Choice): void {
  if (one && id.value) void decide(id.value, one, choice);
}

/** The entry moves and stays selected. */
function moveHere(by: number): void {
  if (!entry.value) return;
  selected.value = entry.value.id;
  void move(entry.value, by);
}

function openDossier(): void {
  if (entry.value?.present)
    void router.push({
      path: "/dossier",
      query: { market: id.value, niche: entry.value.id },
    });
}

function compare(): void {
  if (wanted.value.length > 1) void router.push(toNiches("/compare", wanted.value));
}

const dragged = shallowRef<Entry | null>(null);
function dropOn(target: Entry): void {
  if (!dragged.value) return;
  const at = (one: Entry): number => entries.value.findIndex(({ id }) => id === one.id);
  void move(dragged.value, at(target) - at(dragged.value));
  dragged.value = null;
}

useShortcuts([
  { keys: ["ArrowDown", "j"], label: "↓", does: "Next niche", run: (e) => (e.shiftKey ? moveHere(1) : walk(1)) },
  { keys: ["ArrowUp"], label: "↑", does: "Niche before; with Shift it moves", run: (e) => (e.shiftKey ? moveHere(-1) : walk(-1)) },
  { keys: ["k"], does: "Keep", run: () => decideOn(entry.value, "keep") },
  { keys: ["p"], does: "Park", run: () => decideOn(entry.value, "park") },
  { keys: ["x"], does: "Pass", run: () => decideOn(entry.value, "pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  { keys: [" "], label: "Space", does: "Mark", run: () => entry.value && toggle(entry.value.id) },
  { keys: ["c"], does: "Set the marked ones side by side", run: compare },
  { keys: ["Enter"], does: "Open the niche's dossier", run: openDossier },
  { keys: ["t"], does: "Type a note", run: () => foot.value?.focus() },
]); // prettier-ignore

const SHOWN: { choice: Listed; word: string }[] = [
  { choice: "keep", word: "kept" },
  { choice: "park", word: "parked" },
  { choice: "pass", word: "passed" },
];
</script>

<template>
  <div class="shortlist">
    <MarketGate
      :pending="!list.data.value || !market"
      :failure="list.error.value"
      @retry="list.refetch()"
    >
      <template v-if="market">
        <section class="band" aria-label="What is listed">
          <h1 class="serif">Shortlist</h1>
          <v-checkbox
            v-for="{ choice, word } in SHOWN"
            :key="choice"
            :label="word"
            :model-value="choices.includes(choice)"
            @update:model-value="show(choice, $event === true)"
          />
          <span v-if="tags.length" class="tags">
            <v-btn
              v-for="[word, many] in tags"
              :key="word"
              variant="plain"
              class="tag"
              :aria-pressed="tag === word"
              @click="tag = tag === word ? '' : word"
            >
              {{ word }} {{ many }}
            </v-btn>
          </span>
          <span class="acts">
            <template v-if="wanted.length">
              {{ wanted.length }} marked
              <v-btn :disabled="wanted.length < 2" @click="compare"> Side by side </v-btn>
              <v-btn @click="clear">Unmark</v-btn>
            </template>
            <v-btn v-if="entries.length" :to="toNiches('/brief', briefed)">{{
              wanted.length ? "Briefs of the marked" : "Briefs to print"
            }}</v-btn>
            <FileLinks :address="file" what="the list" />
          </span>
        </section>
        <EmptyView
          v-if="!entries.length"
          :title="tag ? `Nothing carries “${tag}”` : 'Nothing is kept or parked yet'"
          :text="
            tag
              ? 'Choose another tag, or the same again to see all.'
              : 'Keep (k) and park (p) niches in the Field, or skim through a sieve’s result (s); they gather here with the figures of the day.'
          "
        >
          <v-btn :to="{ path: '/field', query: { market: id } }">To the Field</v-btn>
        </EmptyView>
        <template v-else>
          <div class="scroller">
            <v-table>
              <thead>
                <tr>
                  <th scope="col" class="narrow"><span class="unseen">marked</span></th>
                  <th scope="col" class="narrow">place</th>
                  <th scope="col" class="narrow"><span class="unseen">decision</span></th>
                  <th scope="col" class="niche">niche</th>
                  <th scope="col" class="year"><MonthHeader /></th>
                  <th v-for="head in HEADS" :key="head" scope="col" class="right">{{ head }}</th>
                  <th scope="col">decided</th>
                  <th scope="col" class="why">why · note</th>
                </tr>
              </thead>
              <tbody>
                <tr
                  v-for="(one, i) in entries"
                  :id="`entry-${i}`"
                  :key="one.id"
                  :class="{ selected: one === entry, gone: !one.present }"
                  :aria-current="one === entry"
                  draggable="true"
                  @click="place = i"
                  @dragstart="dragged = one"
                  @dragover.prevent
                  @drop.prevent="dropOn(one)"
                >
                  <td class="narrow">
                    <input
                      type="checkbox"
                      :checked="isMarked(one.id)"
                      :aria-label="`Mark ${one.name}`"
                      @click.stop
                      @change="toggle(one.id)"
                    />
                  </td>
                  <td class="narrow place" data-tip="Drag the row, or Shift and an arrow key">
                    <b>{{ i + 1 }}</b>
                  </td>
                  <td class="narrow">
                    <DecisionMarks
                      :decision="one.choice"
                      :name="one.name"
                      @decide="decideOn(one, $event)"
                    />
                  </td>
                  <th scope="row" class="niche" :data-tip="one.name">
                    <span class="name serif">{{ one.name }}</span>
                    <span class="small name">
                      {{ one.present ? one.category : "no longer in the figures" }}
                    </span>
                  </th>
                  <td class="year">
                    <YearStrip
                      class="strip"
                      :profile="one.profile"
                      :as-of="yearShare(market.as_of)"
                      :arrival="yearShare(market.arrival)"
                      :label="`Year strip of ${one.name}`"
                    />
                  </td>
                  <td v-for="key in FIGURES" :key="key" class="right">
                    <ThenNow
                      :figure="figureOf(key)"
                      :then="one.then[key]"
                      :now="one.now[key]"
                      :present="one.present"
                    />
                  </td>
                  <td class="small">{{ formatDay(one.decided_at.slice(0, 10)) }}</td>
                  <td class="why">
                    {{ [one.reason, one.note].filter(Boolean).join(" · ") }}
                    <span v-for="word in one.tags" :key="word" class="tag small">{{ word }}</span>
                  </td>
                </tr>
              </tbody>
            </v-table>
          </div>
          <EntryFoot
            v-if="entry && id"
            ref="foot"
            :entry="entry"
            :market="id"
            :figures="figures.data.value ?? []"
            @explain="explain(entry, $event)"
            @tags="saveTags(entry, $event)"
          />
        </template>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.shortlist {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.band {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 14px;
  padding: 9px var(--gutter) 7px;
  background: var(--page);
  border-bottom: 1px solid var(--rule);
}

h1 {
  font-size: 18px;
  margin: 0 6px 0 0;
}

.acts {
  margin-left: auto;
  display: flex;
  align-items: baseline;
  gap: 14px;
  font-size: 12px;
  color: var(--ink2);
}

.acts a {
  text-decoration: none;
}

.tags {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 6px;
}

.tag {
  border: 1px solid var(--rule);
  border-radius: 2px;
  background: none;
  padding: 0 5px;
  cursor: pointer;
}

.tag[aria-pressed="true"] {
  border-color: var(--ochre);
  background: var(--ochre-wash);
}

.scroller {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: auto;
  scrollbar-width: thin;
}

.v-table :deep(table) {
  width: 100%;
  min-width: 1040px;
  border-collapse: collapse;
  table-layout: fixed;
}

thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
  padding: 5px 10px 5px 0;
}

th,
td {
  text-align: left;
  font-weight: 400;
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid var(--rule);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  width: 84px;
}

th:first-child,
td:first-child {
  padding-left: var(--gutter);
}

th.narrow,
td.narrow {
  width: 46px;
  box-sizing: border-box;
}

th:first-child.narrow {
  width: 52px;
}

th.niche {
  width: 200px;
}

th.year,
td.year {
  width: 140px;
}

.why {
  width: auto;
  color: var(--ink2);
}

.right {
  text-align: right;
}

th.right,
td.right {
  width: 88px;
}

.place {
  cursor: grab;
}

.name {
  display: block;
  overflow: clip visible;
  text-overflow: ellipsis;
}

.name.serif {
  font-size: 15px;
  line-height: 1.15;
}

.strip {
  height: 18px;
}

.selected {
  background: var(--ochre-wash);
  box-shadow:
    inset 0 1px var(--ochre),
    inset 0 -1px var(--ochre);
}

.selected .small,
.selected :deep(.was) {
  color: var(--ink2);
}

.gone .name.serif {
  color: var(--ink3);
}
</style>
