<script setup lang="ts">
import { computed } from "vue";
import { useRouter } from "vue-router";
import type { ApiError, Choice, SubjectPreview } from "@/api/client";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import ProtectedMark from "@/marks/ProtectedMark.vue";
import VerdictText from "@/marks/VerdictText.vue";
import MarketGate from "@/screens/parts/MarketGate.vue";
import NoteField from "@/screens/parts/NoteField.vue";
import { useDecisions } from "@/state/useDecisions";
import { useKind } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";
import { useShortcuts } from "@/state/useShortcuts";

/** One of those who sell on a page of its own: what one asks first, its verdict, and what the screen adds. */
const props = defineProps<{
  subject: SubjectPreview | undefined;
  /** What one asks first, each with the figure that explains it. */
  facts: { head: string; of: string; text: string }[];
  failure: ApiError | null;
}>();
defineEmits<{ retry: [] }>();

const router = useRouter();
const kind = useKind();
const { market } = useMarket();
const inLedger = computed(() => ({
  path: kind.home,
  query: { market: market.value?.market_id, [kind.named]: props.subject?.id },
}));

const { decide, undo } = useDecisions();
function decideOn(choice: Choice): void {
  if (market.value && props.subject) void decide(market.value.market_id, props.subject, choice);
}
useShortcuts([
  { keys: ["k"], does: "Keep", run: () => decideOn("keep") },
  { keys: ["p"], does: "Park", run: () => decideOn("park") },
  { keys: ["x"], does: "Pass", run: () => decideOn("pass") },
  { keys: ["u"], does: "Undo the latest decision", run: () => void undo() },
  { keys: ["f"], does: "Back to Rivals", run: () => void router.push(inLedger.value) },
]);
</script>

<template>
  <MarketGate :pending="subject ? false : undefined" :failure="failure" @retry="$emit('retry')">
    <article v-if="subject" class="page" :aria-label="subject.name">
      <header>
        <h1 class="serif">{{ subject.name }}<ProtectedMark :hint="subject.protected" /></h1>
        <p class="small"><slot name="under" /></p>
        <p class="acts">
          <DecisionMarks :decision="subject.decision" :name="subject.name" @decide="decideOn" />
          <RouterLink :to="inLedger">In Rivals</RouterLink>
          <slot name="acts" />
        </p>
      </header>
      <dl class="facts">
        <div v-for="fact in facts" :key="fact.head">
          <dt v-explain:figure="fact.of" class="small">{{ fact.head }}</dt>
          <dd class="serif">{{ fact.text }}</dd>
        </div>
      </dl>
      <section class="words" aria-label="Verdict">
        <VerdictText :subject="subject" />
        <NoteField :market="market?.market_id ?? ''" :niche="subject" />
      </section>
      <slot />
    </article>
  </MarketGate>
</template>

<style scoped>
.page {
  padding: 14px var(--gutter) 40px;
}

.page :deep(a) {
  color: var(--q5);
}

h1 {
  margin: 0 0 2px;
  font-size: 24px;
  line-height: 1.2;
}

.page :deep(h2) {
  margin: 18px 0 4px;
  font-size: 17px;
}

header p {
  margin: 0 0 4px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
}

.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 30px;
  margin: 10px 0;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
}

.facts dd {
  margin: 0;
  font-size: 17px;
  white-space: nowrap;
}

.words {
  max-width: 760px;
  font: 15px/1.4 var(--serif);
}

.page :deep(.tables) {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 360px), 1fr));
  gap: 0 36px;
}

.page :deep(.tables section) {
  min-width: 0;
  overflow-x: auto;
}

.page :deep(.tables th[scope="row"]) {
  font-weight: 400;
  text-align: left;
}
</style>
