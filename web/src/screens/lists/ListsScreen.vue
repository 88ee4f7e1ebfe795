<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { type ApiError, TERMS } from "@/api/client";
import { dropEntries, type ListedKind, listQueries, removeList, saveList } from "@/api/lists";
import { formatCount } from "@/format/values";
import { useMarket } from "@/state/useMarket";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useCopy } from "@/state/useCopy";
import { howMany, KINDS, useKindNamed } from "@/state/useKind";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import { useTyped } from "@/state/useTyped";
import FileLinks from "@/ui/FileLinks.vue";
import TextField from "@/ui/TextField.vue";
import ListedTerms from "./ListedTerms.vue";
import ListedThings from "./ListedThings.vue";

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
          <ListedTerms
            v-if="ofTerms"
            :rows="found.rows"
            :market="market_id"
            :busy="busy"
            @drop="drop"
          />
          <ListedThings
            v-else
            :things="found.things"
            :kind="kind"
            :market="market_id"
            :busy="busy"
            @drop="drop"
          />
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

.lists :deep(a) {
  color: var(--q5);
}

.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0 0 8px;
}

.lists .kinds a {
  color: var(--ink2);
  text-decoration: none;
  line-height: 24px;
}

.lists .kinds a[aria-current] {
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

.lists :deep(.wide) {
  overflow-x: auto;
}

.lists :deep(.wide th),
.lists :deep(.wide td) {
  min-width: 90px;
  max-width: 40ch;
  overflow-wrap: anywhere;
}

.lists :deep(.wide th[scope="row"]) {
  min-width: 170px;
}

.lists :deep(.mark) {
  color: var(--ochre-text);
}

@media (max-width: 760px) {
  .lists {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
