<script setup lang="ts">
import { ref } from "vue";
import type { RouteLocationRaw } from "vue-router";
import type { Choice, MarketSummary, NichePreview } from "@/api/client";
import { formatCount, formatDay } from "@/format/values";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import SignalLine from "@/marks/SignalLine.vue";
import { useElsewhere } from "@/state/useElsewhere";
import KnownThen from "@/screens/parts/KnownThen.vue";
import NicheActs from "@/screens/parts/grouping/NicheActs.vue";
import NoteField from "@/screens/parts/NoteField.vue";
import PinnedLines from "@/screens/parts/PinnedLines.vue";
import TrackNote from "@/screens/parts/proof/TrackNote.vue";

/** What stays in view of a dossier: the niche, the decision, the note, the questions and the signals. */
defineProps<{
  niche: NichePreview;
  market: MarketSummary;
  questions: readonly { id: string; question: string }[];
  /** Its place in the list one came from; −1 where it is not of it. */
  place: number;
  length: number;
  toField: RouteLocationRaw;
}>();
defineEmits<{
  decide: [choice: Choice];
  question: [section: string];
  step: [by: number];
  merged: [into: string];
}>();

const elsewhere = useElsewhere();
const note = ref<InstanceType<typeof NoteField> | null>(null);
const known = ref(false);
defineExpose({ focus: () => note.value?.focus() });
</script>

<template>
  <aside aria-label="The niche at hand">
    <h1 class="serif">{{ niche.name }}</h1>
    <p class="small">
      {{ niche.category }}<br />
      {{ market.name }}, as of {{ formatDay(market.as_of) }}<br />
      rank {{ formatCount(niche.figures.rank) }}, band {{ formatCount(niche.figures.rank_low) }} to
      {{ formatCount(niche.figures.rank_high) }}; headroom
      {{ formatCount(niche.figures.headroom) }}, both by the lens Default<template
        v-if="niche.figures.high_under_all"
        ><br />◎ high under every ready lens</template
      >
    </p>
    <TrackNote :market="market.market_id" part="launch" />
    <DecisionMarks
      :decision="niche.decision"
      :name="niche.name"
      @decide="$emit('decide', $event)"
    />
    <p v-if="niche.reason" class="small">{{ niche.reason }}</p>
    <NoteField ref="note" :market="market.market_id" :niche="niche" />
    <PinnedLines :market="market.market_id" :niche="niche.id" />
    <nav aria-label="Questions">
      <a
        v-for="({ id: section, question }, i) in questions"
        :key="section"
        :href="`#${section}`"
        @click.prevent="$emit('question', section)"
        ><kbd>{{ i + 1 }}</kbd> {{ question }}</a
      >
    </nav>
    <SignalLine :signals="niche.signals" />
    <p class="small steps">
      <v-btn :disabled="place < 1" @click="$emit('step', -1)">← before</v-btn>
      <span v-if="place >= 0">{{ formatCount(place + 1) }} of {{ formatCount(length) }}</span>
      <v-btn :disabled="place < 0 || place >= length - 1" @click="$emit('step', 1)"> next → </v-btn>
    </p>
    <details class="known" @toggle="known = ($event.target as HTMLDetailsElement).open">
      <summary class="small">What was known then</summary>
      <KnownThen
        v-if="known"
        :market="market.market_id"
        of="niches"
        :subject="niche.id"
        first="rank"
      />
    </details>
    <NicheActs :market="market.market_id" :niche="niche" @merged="$emit('merged', $event)" />
    <RouterLink
      class="small"
      :to="{ path: '/families', query: { market: market.market_id, niche: niche.id } }"
      >Its family</RouterLink
    >
    <RouterLink v-if="elsewhere.several.value" class="small" :to="elsewhere.toRow(niche.id)"
      >In other markets</RouterLink
    >
    <RouterLink class="small" :to="toField">Back to the Field</RouterLink>
  </aside>
</template>

<style scoped>
aside {
  position: relative;
  padding: 14px 16px 14px var(--gutter);
  border-right: 1px solid var(--rule);
  background: var(--page);
  overflow-y: auto;
  scrollbar-width: thin;
}

h1 {
  font-size: 22px;
  line-height: 1.15;
  margin: 0 0 6px;
}

aside p {
  margin: 0 0 8px;
}

nav {
  display: flex;
  flex-direction: column;
  gap: 6px;
  margin: 14px 0;
}

nav a {
  color: var(--ink);
  text-decoration: none;
  padding: 2px 0;
}

nav a:hover {
  text-decoration: underline;
}

.known summary {
  padding: 5px 0;
  min-height: 28px;
  color: var(--q5);
  cursor: pointer;
}

.steps {
  display: flex;
  gap: 10px;
  align-items: baseline;
}

aside > a {
  display: block;
  width: fit-content;
  padding: 6px 0;
  color: var(--q5);
}

@media (max-width: 820px) {
  aside {
    border-right: 0;
  }
}

@media print {
  nav,
  .steps,
  aside > a {
    display: none;
  }
}
</style>
