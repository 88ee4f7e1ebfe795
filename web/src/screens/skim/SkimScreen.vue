<script setup lang="ts">
import { computed, nextTick, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { type Choice, NICHES } from "@/api/client";
import { usePreview } from "@/state/usePreview";
import EmptyView from "@/ui/EmptyView.vue";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { formatCount } from "@/format/values";
import NoteField from "@/screens/parts/NoteField.vue";
import { useDecisions } from "@/state/useDecisions";
import { KINDS, useKindNamed } from "@/state/useKind";
import { useListState } from "@/state/useListState";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import { useMarket } from "@/state/useMarket";
import SkimCard from "./SkimCard.vue";
import { useSkim } from "./useSkim";

const SKIMMED = [KINDS.niches, KINDS.terms, KINDS.listings, KINDS.brands, KINDS.sellers];
const kind = useKindNamed(SKIMMED);
const state = useListState(kind);
const route = useRoute();
const router = useRouter();
const { market, id } = useMarket();
const skim = useSkim(kind, state, id);
const { ids, decisions, place } = skim;
const preview = usePreview(id, skim.current);
/** The card that is due; the one before would invite a decision on the wrong one. */
const card = computed(() =>
  preview.data.value?.id === skim.current.value ? preview.data.value : undefined,
);
useTabTitle(() => (card.value ? `Skim: ${card.value.name}` : "Skim"));
const { decide, undo } = useDecisions();
const note = ref<InstanceType<typeof NoteField> | null>(null);

const counts = computed(() => {
  const made = ids.value.map((one) => decisions.value[one]);
  const of = (choice: Choice): number => made.filter((one) => one === choice).length;
  return {
    keep: of("keep"),
    park: of("park"),
    pass: of("pass"),
    open: made.filter((one) => !one).length,
  };
});

function decideHere(choice: Choice): void {
  if (!card.value || !id.value) return;
  void decide(id.value, card.value, choice);
  skim.count();
  if (choice !== "open") skim.go(place.value + 1);
}

/** What was undone comes up again. */
async function undoHere(): Promise<void> {
  const undone = await undo();
  const back = undone?.subjects.find((one) => ids.value.includes(one.id));
  if (back) skim.jump(back.id);
}

const back = computed(() => ({ path: kind.home, query: { ...route.query, of: undefined } }));

function open(): void {
  if (!card.value) return;
  const { market } = route.query;
  if (kind.page && kind.of !== NICHES) {
    void router.push({ path: kind.page, query: { market, [kind.named]: card.value.id } });
    return;
  }
  const query = kind.of === NICHES ? route.query : { market, niche: card.value.niche };
  void router.push({ path: "/dossier", query });
}

useShortcuts([
  { keys: ["k"], does: "Keep, and on to the next", run: () => decideHere("keep") },
  { keys: ["p"], does: "Park, and on to the next", run: () => decideHere("park") },
  { keys: ["x"], does: "Pass, and on to the next", run: () => decideHere("pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undoHere() },
  { keys: ["ArrowRight", "j", " "], label: "→", does: `Next ${kind.one}`, run: () => skim.go(place.value + 1) },
  { keys: ["ArrowLeft"], label: "←", does: `The ${kind.one} before`, run: () => skim.go(place.value - 1) },
  { keys: ["Enter"], does: kind.page && kind.of !== NICHES ? `Open the ${kind.one}’s page` : "Open the niche’s dossier", run: open },
  { keys: ["t"], does: "Type a note", run: () => void nextTick(() => note.value?.focus()) },
  { keys: ["Escape"], label: "Esc", does: `Back to ${kind.screen}`, run: () => void router.push(back.value) },
]); // prettier-ignore

const failure = computed(() => skim.queue.error.value ?? preview.error.value);
</script>

<template>
  <div class="skim">
    <MarketGate :pending="!skim.queue.data.value" :failure="failure" @retry="skim.queue.refetch()">
      <section class="progress" aria-label="Progress">
        <span role="status"
          ><b>{{ formatCount(Math.min(place + 1, ids.length)) }}</b> of
          {{ formatCount(ids.length) }}</span
        >
        <span class="track" aria-hidden="true">
          <span :style="{ width: `${(place / Math.max(ids.length, 1)) * 100}%` }" />
        </span>
        <span>
          {{ counts.keep }} kept · {{ counts.park }} parked · {{ formatCount(counts.pass) }} passed
          · {{ formatCount(counts.open) }} open
        </span>
        <span v-if="skim.pace.value" class="small">{{ skim.pace.value.toFixed(0) }} a minute</span>
        <span class="keys small">
          <kbd>k</kbd> keep <kbd>p</kbd> park <kbd>x</kbd> pass <kbd>u</kbd> undo <kbd>t</kbd> note
          <kbd>←</kbd> <kbd>→</kbd>
        </span>
        <RouterLink class="back" :to="back">Back to {{ kind.screen }}</RouterLink>
      </section>
      <EmptyView
        v-if="!ids.length"
        :title="`No ${kind.one} passes`"
        :text="`The conditions let nothing through. Go back to ${kind.screen} and change one.`"
      />
      <EmptyView
        v-else-if="skim.ended.value"
        title="That was the last one"
        :text="`${counts.keep} kept, ${counts.park} parked, ${counts.pass} passed and ${counts.open} left open of ${ids.length}.`"
      >
        <p class="ends">
          <RouterLink
            :to="{
              path: '/shortlist',
              query: { market: state.market.value, of: state.ask.value.of },
            }"
            >To the shortlist</RouterLink
          >
          <RouterLink :to="back">Back to {{ kind.screen }}</RouterLink>
          <v-btn @click="skim.go(0)">From the start</v-btn>
        </p>
      </EmptyView>
      <template v-else-if="card && market">
        <SkimCard :subject="card" :market="market" @decide="decideHere" />
        <div class="note">
          <NoteField ref="note" :market="market.market_id" :niche="card" />
        </div>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.skim {
  display: flex;
  flex-direction: column;
  height: 100%;
}

.progress {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 18px;
  padding: 8px var(--gutter);
  background: var(--page);
  border-bottom: 1px solid var(--rule);
  color: var(--ink2);
}

.progress b {
  color: var(--ink);
}

.track {
  flex: 0 1 160px;
  height: 5px;
  align-self: center;
  background: var(--q0);
}

.track > span {
  display: block;
  height: 100%;
  background: var(--q4);
}

.keys {
  margin-left: auto;
}

.back,
.ends a {
  color: var(--q5);
}

.ends {
  display: flex;
  gap: 18px;
}

.note {
  padding: 6px var(--gutter) 12px;
  background: var(--page);
  border-top: 1px solid var(--rule);
}

@media (max-width: 820px) {
  .keys {
    display: none;
  }
}
</style>
