<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { ApiError, Choice } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import { registryQueries } from "@/api/registry";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useDecisions } from "@/state/useDecisions";
import { complaintVerdict } from "@/format/voices";
import { KINDS, provideKind } from "@/state/useKind";
import { useListState } from "@/state/useListState";
import { useElsewhere } from "@/state/useElsewhere";
import { useMarket } from "@/state/useMarket";
import { useTabTitle } from "@/state/useTabTitle";
import { useShortcuts } from "@/state/useShortcuts";
import WorkingSheet from "@/screens/parts/WorkingSheet.vue";
import CalendarSection from "./CalendarSection.vue";
import ComplaintsSection from "./ComplaintsSection.vue";
import DossierAside from "./DossierAside.vue";
import DemandSection from "./DemandSection.vue";
import HoldersSection from "./HoldersSection.vue";
import MoneySection from "./MoneySection.vue";
import OwnSection from "./OwnSection.vue";
import QuestionSection from "./QuestionSection.vue";
import TermsSection from "./TermsSection.vue";
import { useDossier } from "./useDossier";
import VoicesSection from "./voices/VoicesSection.vue";

const QUESTIONS = [
  { id: "demand", question: "Is the demand real?" },
  { id: "calendar", question: "When does it come?" },
  { id: "holders", question: "Who holds it?" },
  { id: "terms", question: "What do buyers type?" },
  { id: "complaints", question: "What do they complain of?" },
  { id: "money", question: "Does it pay?" },
  { id: "own", question: "Our part" },
] as const;

const UNNAMED = {
  title: "No niche is named",
  text: "Choose one in the Field and press Enter.",
};

const route = useRoute();
const router = useRouter();
const state = useListState(provideKind(KINDS.niches));
const { market, id } = useMarket();
const figures = useQuery(registryQueries.figures());
const queue = useQuery(computed(() => ledgerQueries.ids(state.ask.value)));
const { decide, undo } = useDecisions();
const named = computed(() => state.id.value ?? "");
const dossier = useDossier(id, named);
const { preview, demand, curves, holders, terms, feedback, voices, costs, own, questions } =
  dossier;
const { language } = dossier;
const niche = computed(() => preview.data.value);
useTabTitle(() => niche.value?.name);
const registry = computed(() => figures.data.value ?? []);
const aside = ref<InstanceType<typeof DossierAside> | null>(null);

/** Where this niche stands in the list one came from. */
const list = computed(() => queue.data.value?.ids ?? []);
const place = computed(() => list.value.indexOf(named.value));
function step(by: number): void {
  const next = list.value[place.value + by];
  if (place.value >= 0 && next) state.id.value = next;
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
    if (now) dossier.fetchAhead(place.value >= 0 ? list.value[place.value + 1] : undefined);
  },
  { immediate: true },
);

function decideHere(choice: Choice): void {
  if (niche.value && id.value) void decide(id.value, niche.value, choice);
}

const elsewhere = useElsewhere();
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
  { keys: ["t"], does: "Type a note", run: () => void nextTick(() => aside.value?.focus()) },
  { keys: ["w"], does: "Show the working", run: () => work("") },
  elsewhere.shortcut(() => niche.value?.id),
  {
    keys: ["Escape"],
    label: "Esc",
    does: "Back to the Field",
    run: () => void router.push(toField.value),
  },
]);

/** What buyers write comes first, and then what was counted, where anything was. */
const complaints = computed(() => {
  const [written, counted] = [voices.data.value, feedback.data.value];
  if (!written || !counted) return undefined;
  return complaintVerdict(written, counted);
});

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
        <DossierAside
          ref="aside"
          :niche="niche"
          :market="market"
          :questions="QUESTIONS"
          :place="place"
          :length="list.length"
          :to-field="toField"
          @decide="decideHere"
          @question="goTo"
          @step="step"
          @merged="state.id.value = $event"
        />
        <div class="pages" tabindex="0" role="region" aria-label="Answers">
          <QuestionSection
            id="demand"
            question="Is the demand real?"
            :verdict="niche.demand"
            :ready="demand.isSuccess.value"
          >
            <DemandSection
              v-if="demand.data.value"
              :market="id ?? ''"
              :niche="niche"
              :figures="registry"
              :demand="demand.data.value"
              @working="work"
            />
          </QuestionSection>
          <QuestionSection
            id="calendar"
            question="When does it come?"
            :verdict="niche.calendar"
            :ready="demand.isSuccess.value && curves.isSuccess.value"
          >
            <CalendarSection
              v-if="demand.data.value && curves.data.value"
              :niche="niche"
              :figures="registry"
              :market="market"
              :curves="curves.data.value"
              :demand="demand.data.value"
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
            :verdict="terms.data.value?.verdict"
            :ready="terms.isSuccess.value"
          >
            <TermsSection
              v-if="terms.data.value"
              :market="market"
              :niche="niche"
              :detail="terms.data.value"
            />
          </QuestionSection>
          <QuestionSection
            id="complaints"
            question="What do they complain of?"
            :verdict="complaints"
            :ready="feedback.isSuccess.value && voices.isSuccess.value"
          >
            <VoicesSection
              v-if="voices.data.value?.languages.length && feedback.data.value"
              v-model:language="language"
              :detail="voices.data.value"
              :counted="feedback.data.value.themes"
              :market="market.market_id"
              :niche="niche.id"
            />
            <ComplaintsSection
              v-if="feedback.data.value"
              :feedback="feedback.data.value"
              :listed="!!voices.data.value?.languages.length"
            />
          </QuestionSection>
          <QuestionSection
            id="money"
            question="Does it pay?"
            :verdict="
              costs.data.value && (costs.data.value.paying?.verdict ?? [costs.data.value.missing])
            "
            :ready="costs.isSuccess.value"
          >
            <MoneySection
              v-if="costs.data.value"
              :market="market.market_id"
              :niche="niche"
              :answer="costs.data.value"
            />
          </QuestionSection>
          <QuestionSection
            id="own"
            question="Our part"
            :verdict="own.data.value?.sentences"
            :ready="own.isSuccess.value"
          >
            <OwnSection
              v-if="own.data.value"
              :own="own.data.value"
              :name="niche.name"
              :market="market.market_id"
            />
          </QuestionSection>
        </div>
        <WorkingSheet
          v-model="workingOpen"
          :figure="workingOf"
          :subject="niche"
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
}

@media print {
  .dossier {
    display: block;
    height: auto;
  }

  .pages {
    overflow: visible;
  }
}
</style>
