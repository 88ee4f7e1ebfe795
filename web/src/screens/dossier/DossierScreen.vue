<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { ApiError, Choice } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import { nicheQueries } from "@/api/niche";
import { registryQueries } from "@/api/registry";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import SignalLine from "@/marks/SignalLine.vue";
import { formatCount, formatDay } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import NoteField from "@/screens/parts/NoteField.vue";
import { useDecisions } from "@/state/useDecisions";
import { useFieldState } from "@/state/useFieldState";
import { useMarket } from "@/state/useMarket";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import WorkingSheet from "@/screens/parts/WorkingSheet.vue";
import CalendarSection from "./CalendarSection.vue";
import ComplaintsSection from "./ComplaintsSection.vue";
import DemandSection from "./DemandSection.vue";
import HoldersSection from "./HoldersSection.vue";
import MoneySection from "./MoneySection.vue";
import QuestionSection from "./QuestionSection.vue";
import TermsSection from "./TermsSection.vue";

const QUESTIONS = [
  { id: "demand", question: "Is the demand real?" },
  { id: "calendar", question: "When does it come?" },
  { id: "holders", question: "Who holds it?" },
  { id: "terms", question: "What do buyers type?" },
  { id: "complaints", question: "What do they complain of?" },
  { id: "money", question: "Does it pay?" },
] as const;

const UNNAMED = {
  title: "No niche is named",
  text: "Choose one in the Field and press Enter.",
};

const route = useRoute();
const router = useRouter();
const state = useFieldState();
const { market, id } = useMarket();
const figures = useQuery(registryQueries.figures());
const queue = useQuery(computed(() => ledgerQueries.ids(state.ask.value)));
const { decide, undo } = useDecisions();
const named = computed(() => state.niche.value ?? "");
const ready = computed(() => Boolean(id.value && named.value));
/** A question's query of the niche at hand; all are asked at once. */
function ask<T>(of: (market: string, niche: string) => T) {
  return computed(() => ({ ...of(id.value ?? "", named.value), enabled: ready.value }));
}
const preview = useQuery(ask(nicheQueries.preview));
const outlook = useQuery(ask(nicheQueries.demand));
const curves = useQuery(ask(nicheQueries.curves));
const holders = useQuery(ask(nicheQueries.holders));
const typed = useQuery(ask(nicheQueries.termsDetail));
const said = useQuery(ask(nicheQueries.feedback));
const reckoning = useQuery(ask(nicheQueries.costs));
const questions = [preview, outlook, curves, holders, typed, said, reckoning];
const niche = computed(() => preview.data.value);
useTabTitle(() => niche.value?.name);
const registry = computed(() => figures.data.value ?? []);
const note = ref<InstanceType<typeof NoteField> | null>(null);

/** Where this niche stands in the list one came from. */
const list = computed(() => queue.data.value?.ids ?? []);
const place = computed(() => list.value.indexOf(named.value));
/** The next one is fetched while this one is read. */
const cache = useQueryClient();
function fetchAhead(): void {
  const next = list.value[place.value + 1];
  const market = id.value;
  if (place.value < 0 || !next || !market) return;
  void cache.prefetchQuery(nicheQueries.preview(market, next));
  void cache.prefetchQuery(nicheQueries.demand(market, next));
  void cache.prefetchQuery(nicheQueries.curves(market, next));
  void cache.prefetchQuery(nicheQueries.holders(market, next));
  void cache.prefetchQuery(nicheQueries.termsDetail(market, next));
  void cache.prefetchQuery(nicheQueries.feedback(market, next));
  void cache.prefetchQuery(nicheQueries.costs(market, next));
}
function step(by: number): void {
  const next = list.value[place.value + by];
  if (place.value >= 0 && next) state.niche.value = next;
}

const workingOpen = ref(false);
const workingOf = ref("");
function work(figure: string): void {
  workingOf.value = figure;
  workingOpen.value = true;
}

function show(section: string): void {
  const target = document.getElementById(section);
  target?.scrollIntoView({ block: "start" });
  target?.focus({ preventScroll: true });
}
/** A question is a place of its own, whose address can be sent. */
function goTo(section: string): void {
  void router.replace({ query: route.query, hash: `#${section}` });
  show(section);
}
// All of the page must stand before a place in it can be gone to.
const complete = computed(() => questions.every((one) => one.data.value !== undefined));
watch(
  complete,
  async (now) => {
    await nextTick();
    const section = route.hash.slice(1);
    if (now && QUESTIONS.some((one) => one.id === section)) show(section);
    if (now) window.setTimeout(fetchAhead, 300);
  },
  { immediate: true },
);

function decideHere(choice: Choice): void {
  if (niche.value && id.value) void decide(id.value, niche.value, choice);
}

/** What the calendar's question opens with: the shape's sentence and the dates. */
const calendar = computed(() => {
  const said = niche.value?.verdict ?? [];
  return [said[0], said.length > 1 && niche.value?.call ? said.at(-1) : undefined].filter(
    (one) => one !== undefined,
  );
});

const toField = computed(() => ({ path: "/field", query: route.query }));
useShortcuts([
  ...QUESTIONS.map(({ id: section, question }, i) => ({
    keys: [String(i + 1)],
    does: question,
    run: () => goTo(section),
  })),
  { keys: ["ArrowRight", "j"], label: "→", does: "Next niche of the list", run: () => step(1) },
  { keys: ["ArrowLeft"], label: "←", does: "Niche before", run: () => step(-1) },
  { keys: ["k"], does: "Keep", run: () => decideHere("keep") },
  { keys: ["p"], does: "Park", run: () => decideHere("park") },
  { keys: ["x"], does: "Pass", run: () => decideHere("pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  { keys: ["t"], does: "Type a note", run: () => void nextTick(() => note.value?.focus()) },
  { keys: ["w"], does: "Show the working", run: () => work("") },
  {
    keys: ["Escape"],
    label: "Esc",
    does: "Back to the Field",
    run: () => void router.push(toField.value),
  },
]);

const failure = computed(
  () =>
    questions.map((one) => one.error.value).find((error) => error !== null) as ApiError | undefined,
);
const retry = (): void => {
  for (const one of questions) if (one.error.value) void one.refetch();
};
</script>

<template>
  <div class="dossier">
    <MarketGate
      :pending="!niche || !market"
      :failure="failure"
      :empty="!named && UNNAMED"
      @retry="retry"
    >
      <template v-if="niche && market">
        <aside aria-label="The niche at hand">
          <h1 class="serif">{{ niche.name }}</h1>
          <p class="small">
            {{ niche.category }}<br />
            {{ market.name }}, as of {{ formatDay(market.as_of) }}<br />
            rank {{ formatCount(niche.figures.rank) }}, band
            {{ formatCount(niche.figures.rank_low) }} to {{ formatCount(niche.figures.rank_high) }};
            headroom {{ formatCount(niche.figures.headroom) }}
          </p>
          <DecisionMarks :decision="niche.decision" :name="niche.name" @decide="decideHere" />
          <p v-if="niche.reason" class="small">{{ niche.reason }}</p>
          <NoteField ref="note" :market="market.market_id" :niche="niche" />
          <nav aria-label="Questions">
            <a
              v-for="({ id: section, question }, i) in QUESTIONS"
              :key="section"
              :href="`#${section}`"
              @click.prevent="goTo(section)"
              ><kbd>{{ i + 1 }}</kbd> {{ question }}</a
            >
          </nav>
          <SignalLine :signals="niche.signals" />
          <p class="small steps">
            <v-btn :disabled="place < 1" @click="step(-1)">← before</v-btn>
            <span v-if="place >= 0"
              >{{ formatCount(place + 1) }} of {{ formatCount(list.length) }}</span
            >
            <v-btn :disabled="place < 0 || place >= list.length - 1" @click="step(1)">
              next →
            </v-btn>
          </p>
          <RouterLink class="small" :to="toField">Back to the Field</RouterLink>
        </aside>
        <div class="pages" tabindex="0" role="region" aria-label="Answers">
          <QuestionSection
            id="demand"
            question="Is the demand real?"
            :verdict="niche.verdict"
            :ready="outlook.isSuccess.value"
          >
            <DemandSection
              v-if="outlook.data.value"
              :niche="niche"
              :figures="registry"
              :outlook="outlook.data.value"
              @working="work"
            />
          </QuestionSection>
          <QuestionSection
            id="calendar"
            question="When does it come?"
            :verdict="calendar"
            :ready="outlook.isSuccess.value && curves.isSuccess.value"
          >
            <CalendarSection
              v-if="outlook.data.value && curves.data.value"
              :niche="niche"
              :figures="registry"
              :market="market"
              :curves="curves.data.value"
              :outlook="outlook.data.value"
              @working="work"
            />
          </QuestionSection>
          <QuestionSection
            id="holders"
            question="Who holds it?"
            :verdict="holders.data.value?.verdict"
            :ready="holders.isSuccess.value"
          >
            <HoldersSection
              v-if="holders.data.value"
              :market="market"
              :niche="niche"
              :figures="registry"
              :holders="holders.data.value"
              @working="work"
            />
          </QuestionSection>
          <QuestionSection
            id="terms"
            question="What do buyers type?"
            :verdict="typed.data.value?.verdict"
            :ready="typed.isSuccess.value"
          >
            <TermsSection
              v-if="typed.data.value"
              :market="market"
              :niche="niche"
              :typed="typed.data.value"
            />
          </QuestionSection>
          <QuestionSection
            id="complaints"
            question="What do they complain of?"
            :verdict="said.data.value?.verdict"
            :ready="said.isSuccess.value"
          >
            <ComplaintsSection v-if="said.data.value" :said="said.data.value" />
          </QuestionSection>
          <QuestionSection
            id="money"
            question="Does it pay?"
            :verdict="
              reckoning.data.value &&
              (reckoning.data.value.paying?.says ?? [reckoning.data.value.missing])
            "
            :ready="reckoning.isSuccess.value"
          >
            <MoneySection
              v-if="reckoning.data.value"
              :market="market.market_id"
              :niche="niche.id"
              :answer="reckoning.data.value"
            />
          </QuestionSection>
        </div>
        <WorkingSheet
          v-model="workingOpen"
          :figure="workingOf"
          :niche="niche"
          :figures="registry"
        />
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.dossier {
  display: grid;
  grid-template-columns: 232px minmax(0, 1fr);
  height: 100%;
}

.dossier > :deep(.empty) {
  grid-column: 1 / -1;
}

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

.steps {
  display: flex;
  gap: 10px;
  align-items: baseline;
}

.steps .v-btn--disabled {
  opacity: 0.4;
}

aside > a {
  color: var(--q5);
}

.pages {
  position: relative;
  overflow-y: auto;
  padding: 0 var(--gutter) 30px 26px;
}

.pages > :first-child {
  border-top: 0;
}

@media (max-width: 820px) {
  .dossier {
    display: block;
    overflow-y: auto;
  }

  aside {
    border-right: 0;
  }
}

@media print {
  .dossier {
    display: block;
    height: auto;
  }

  .pages {
    overflow: visible;
  }

  nav,
  .steps,
  aside > a {
    display: none;
  }
}
</style>
