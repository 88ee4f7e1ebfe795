<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import { useRoute } from "vue-router";
import type { ApiError } from "@/api/client";
import { registryQueries } from "@/api/registry";
import { shownUnit } from "@/format/figure";
import { useMarket } from "@/state/useMarket";
import { useShortcuts } from "@/state/useShortcuts";
import { useTabTitle } from "@/state/useTabTitle";
import ScreenGate from "@/ui/ScreenGate.vue";
import TextField from "@/ui/TextField.vue";

/** What every word, figure, signal and setting means. */
interface Entry {
  id: string;
  head: string;
  text: string;
  more: string;
}

useTabTitle("Glossary");
const route = useRoute();
const { market } = useMarket();
const words = useQuery(registryQueries.glossary());
const figures = useQuery(registryQueries.figures());
const signals = useQuery(registryQueries.signals());
const settings = useQuery(computed(() => registryQueries.settings(market.value?.market_id)));
const failure = computed(() => (words.error.value ?? figures.error.value) as ApiError | null);
const searched = ref("");
const box = ref<InstanceType<typeof TextField> | null>(null);

const byHead = (a: Entry, b: Entry): number => a.head.localeCompare(b.head);
const groups = computed(() => {
  const all: [head: string, entries: Entry[]][] = [
    [
      "Words and marks",
      (words.data.value ?? []).map((one) => ({
        id: one.key,
        head: one.word,
        text: one.short,
        more: one.more,
      })),
    ],
    [
      "Figures",
      (figures.data.value ?? []).map((one) => ({
        id: one.key,
        head: one.label,
        text: `${one.formula[0]?.toUpperCase() ?? ""}${one.formula.slice(1)}.`,
        more: [
          shownUnit(one.unit),
          one.source,
          one.condition_name && `typed “${one.condition_name}”`,
        ]
          .filter(Boolean)
          .join(" · "),
      })),
    ],
    [
      "Signals",
      (signals.data.value ?? []).map((one) => ({
        id: one.key,
        head: one.name,
        text: `A ${one.tone}. Look at: ${one.look}`,
        more: `typed “signal ${one.key}”`,
      })),
    ],
    [
      "Settings",
      (settings.data.value?.groups ?? [])
        .flatMap((group) => group.settings)
        .map((one) => ({ id: one.key, head: one.name, text: one.help, more: one.key })),
    ],
  ];
  const low = searched.value.trim().toLowerCase();
  return all
    .map(([head, entries]) => ({
      head,
      entries: entries
        .filter((one) => `${one.head} ${one.text} ${one.more}`.toLowerCase().includes(low))
        .sort(byHead),
    }))
    .filter((group) => group.entries.length);
});

/** An address with a word opens on it. */
watch(
  [() => route.hash, groups],
  async ([hash]) => {
    if (!hash) return;
    await nextTick();
    const found = document.getElementById(decodeURIComponent(hash.slice(1)));
    found?.scrollIntoView({ block: "center" });
    found?.focus({ preventScroll: true });
  },
  { immediate: true, flush: "post" },
);
useShortcuts([
  { keys: ["/"], does: "Search the glossary", run: () => void nextTick(() => box.value?.focus()) },
]);
</script>

<template>
  <div class="glossary">
    <ScreenGate
      :pending="!words.data.value || !figures.data.value"
      :failure="failure"
      @retry="words.refetch()"
    >
      <header>
        <h1 class="serif">Glossary</h1>
        <TextField ref="box" v-model="searched" label="Search the glossary" placeholder="a word" />
      </header>
      <p v-if="!groups.length">No matches</p>
      <section v-for="group in groups" :key="group.head" :aria-label="group.head">
        <h2 class="serif">{{ group.head }}</h2>
        <dl>
          <div v-for="one in group.entries" :id="one.id" :key="one.id" tabindex="-1" class="entry">
            <dt>{{ one.head }}</dt>
            <dd>
              {{ one.text }} <span v-if="one.more" class="small">{{ one.more }}</span>
            </dd>
          </div>
        </dl>
      </section>
    </ScreenGate>
  </div>
</template>

<style scoped>
.glossary {
  height: 100%;
  overflow: auto;
  padding: 0 var(--gutter) 40px;
  box-sizing: border-box;
}

header {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: baseline;
  padding: 14px 0 4px;
}

h1 {
  font-size: 24px;
  margin: 0;
}

h2 {
  font-size: 18px;
  margin: 18px 0 4px;
}

dl {
  margin: 0;
  columns: 420px;
  column-gap: 40px;
}

.entry {
  break-inside: avoid;
  padding: 5px 0;
  border-top: 1px solid var(--rule);
}

.entry:target,
.entry:focus {
  background: var(--ochre-wash);
  outline: none;
}

dt {
  font-weight: 600;
}

dd {
  margin: 0;
}
</style>
