<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, nextTick, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { NICHES } from "@/api/client";
import { deskQueries } from "@/api/desk";
import { containing, ledgerQueries } from "@/api/ledger";
import { registryQueries } from "@/api/registry";
import { useIntroduction } from "@/state/useIntroduction";
import { useMarket } from "@/state/useMarket";
import { listShortcuts } from "@/state/useShortcuts";
import TextField from "@/ui/TextField.vue";
import { useListbox } from "@/ui/useListbox";

const OptionList = defineAsyncComponent(() => import("@/ui/OptionList.vue"));

/** One line to go anywhere: a niche, a screen, a sieve, a market, a word of the glossary, a setting, or what a key does. */
const open = defineModel<boolean>({ required: true });

interface Target {
  label: string;
  hint: string;
  go: () => void;
}

const MAX_TARGETS = 12;
const route = useRoute();
const router = useRouter();
const { market: chosen } = useMarket();
const { introduce } = useIntroduction();
const markets = useQuery(registryQueries.markets());
const sieves = useQuery(deskQueries.sieves(NICHES));
const text = ref("");
const box = ref<InstanceType<typeof TextField> | null>(null);
const market = computed(() => {
  const named = route.query["market"];
  return typeof named === "string" ? named : undefined;
});
const typed = computed(() => text.value.trim() !== "");
const words = useQuery(computed(() => ({ ...registryQueries.glossary(), enabled: typed.value })));
const figures = useQuery(computed(() => ({ ...registryQueries.figures(), enabled: typed.value })));
const settings = useQuery(
  computed(() => ({
    ...registryQueries.settings(chosen.value?.market_id),
    enabled: typed.value && chosen.value !== undefined,
  })),
);
const found = useQuery(computed(() => ledgerQueries.found(market.value, text.value)));

const to = (
  path: string,
  query: Record<string, string | string[]> = {},
  hash = "",
): (() => void) => {
  const within = market.value ? { market: market.value } : {};
  return () => void router.push({ path, query: { ...within, ...query }, hash });
};

/** What is explained and what can be set; only where something is typed, for there are hundreds. */
const explained = computed<Target[]>(() => [
  ...(words.data.value ?? []).map((one) => ({
    label: one.word,
    hint: "glossary",
    go: to("/glossary", {}, `#${one.key}`),
  })),
  ...(figures.data.value ?? []).map((one) => ({
    label: one.label,
    hint: "figure, in the glossary",
    go: to("/glossary", {}, `#${one.key}`),
  })),
  ...(settings.data.value?.groups ?? [])
    .flatMap((group) => group.settings)
    .map((one) => ({
      label: one.name,
      hint: "setting",
      go: to("/settings", { find: one.name }),
    })),
]);

/** Everything there is to go to besides niches. */
const places = computed<Target[]>(() => [
  { label: "Field", hint: "screen", go: to("/field") },
  { label: "Chart of the Field", hint: "screen", go: to("/field", { view: "chart" }) },
  { label: "Families", hint: "screen", go: to("/families") },
  { label: "Terms", hint: "screen", go: to("/terms") },
  { label: "Rivals", hint: "screen", go: to("/rivals") },
  { label: "Lists of terms", hint: "screen", go: to("/lists") },
  { label: "Niches from terms", hint: "screen", go: to("/grouping") },
  { label: "Catalogue", hint: "screen", go: to("/catalogue") },
  { label: "Across markets", hint: "screen", go: to("/across") },
  { label: "Watch", hint: "screen", go: to("/watch") },
  { label: "Track record", hint: "screen", go: to("/track-record") },
  { label: "Shortlist", hint: "screen", go: to("/shortlist") },
  { label: "Intake", hint: "screen", go: to("/intake") },
  { label: "Data coverage", hint: "screen", go: to("/coverage") },
  { label: "Settings", hint: "screen", go: to("/settings") },
  { label: "Protected words", hint: "screen", go: to("/protected") },
  { label: "Glossary", hint: "screen", go: to("/glossary") },
  { label: "Faults", hint: "screen", go: to("/faults") },
  { label: "Introduction in three steps", hint: "help", go: introduce },
  ...(sieves.data.value ?? []).map((one) => ({
    label: one.name,
    hint: "sieve",
    go: to("/field", { c: one.conditions }),
  })),
  ...(markets.data.value ?? []).map((one) => ({
    label: one.name,
    hint: "market",
    go: to("/field", { market: one.market_id }),
  })),
  ...listShortcuts()
    .filter((one) => !one.chord)
    .map((one) => ({
      label: one.does,
      hint: one.label ?? one.keys[0] ?? "",
      go: () => one.run(new KeyboardEvent("keydown", { key: one.keys[0] })),
    })),
]);

const targets = computed<Target[]>(() => {
  const low = text.value.trim().toLowerCase();
  const fitting = places.value.filter((one) => one.label.toLowerCase().includes(low));
  if (!low) return fitting.slice(0, MAX_TARGETS);
  const niches = (found.data.value?.rows ?? []).map((row) => ({
    label: row.name,
    hint: row.category || "niche",
    go: to("/field", { niche: row.id, c: [containing(low)] }),
  }));
  // What begins with the words comes before what only contains them.
  const rest = explained.value
    .filter((one) => one.label.toLowerCase().includes(low))
    .sort(
      (a, b) =>
        Number(b.label.toLowerCase().startsWith(low)) -
        Number(a.label.toLowerCase().startsWith(low)),
    );
  return [...fitting.slice(0, 5), ...niches.slice(0, 5), ...rest].slice(0, MAX_TARGETS);
});
const { marked, move, combobox, optionId } = useListbox(
  "targets",
  () => targets.value.length,
  true,
);
watch([text, open], () => (marked.value = 0), { immediate: true });
watch(
  open,
  async (now) => {
    if (!now) return;
    text.value = "";
    await nextTick();
    box.value?.focus();
  },
  { immediate: true },
);

function take(target: Target | undefined): void {
  if (!target) return;
  open.value = false;
  // The sheet's own closing gives the focus back first.
  window.setTimeout(target.go);
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" location="top center" aria-label="Go to">
    <div class="sheet">
      <TextField
        ref="box"
        v-model="text"
        v-bind="combobox"
        class="box"
        autofocus
        label="Go to a niche, a screen, a sieve, or what a key does"
        placeholder="a niche, a screen, a sieve, what to do"
        spellcheck="false"
        @keydown.down.prevent="move(1)"
        @keydown.up.prevent="move(-1)"
        @keydown.enter.prevent="take(targets[marked])"
      />
      <OptionList
        id="targets"
        label="Where to"
        :options="targets"
        :marked="marked"
        :option-id="optionId"
        @take="take"
      />
      <p v-if="!targets.length" class="small none">No matches</p>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  padding: 10px 0;
}

.box {
  margin: 0 16px 6px;
  font: 17px var(--serif);
}

.none {
  margin: 0 16px;
}
</style>
