<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import type { ApiError } from "@/api/client";
import { groupingQueries, proposeNiches, takeOverNiches, undoNiches } from "@/api/grouping";
import { intakeQueries } from "@/api/intake";
import { analyse } from "@/api/registry";
import { formatCount, formatMoment } from "@/format/values";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useMarked } from "@/state/useMarked";
import { useMarket } from "@/state/useMarket";
import { useNicheChange } from "@/state/useNicheChange";
import { useNotice } from "@/state/useNotice";
import { useTabTitle } from "@/state/useTabTitle";
import PageSteps from "@/ui/PageSteps.vue";
import ProposedTable from "./ProposedTable.vue";

/** Niches made of terms: proposed by the program, shown before they hold, and what was changed so far. */
const { market, id } = useMarket();
const { notify } = useNotice();
const { busy, change } = useNicheChange();
useTabTitle("Niches from terms");

const AT_ONCE = 100; // Niches of a proposal.
const start = ref(0);
const found = useQuery(computed(() => groupingQueries.all(id.value, start.value)));
const jobs = useQuery(intakeQueries.jobs());
const grouping = computed(() => found.data.value);
const proposal = computed(() => grouping.value?.proposal ?? undefined);
const latest = computed(() => grouping.value?.changes.find((one) => !one.undone_at));

/** Niches that are not to hold, and names that were written. */
const { marked: left, isMarked: isLeft, toggle, clear } = useMarked();
const names = ref<Record<string, string>>({});
watch(
  () => proposal.value?.made_at,
  () => {
    clear();
    names.value = {};
    start.value = 0;
  },
);
const wanted = computed(() => (proposal.value?.count ?? 0) - left.value.length);
const terms = (many: number): string => `${formatCount(many)} ${many === 1 ? "term" : "terms"}`;
const niches = (many: number): string => `${formatCount(many)} ${many === 1 ? "niche" : "niches"}`;

const job = computed(() => {
  const last = jobs.data.value?.[0];
  return last && ["waiting", "running"].includes(last.state) ? last : undefined;
});
watch(job, (now, before) => {
  if (!before || now) return;
  void found.refetch();
  const ended = jobs.data.value?.[0];
  if (ended?.kind === "propose")
    notify(ended.messages[0] ?? `The proposal was not made: ${ended.state}.`);
});

async function ask(work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
  } catch (error) {
    notify((error as ApiError).message);
  }
  await jobs.refetch();
}

const propose = (anew: boolean): Promise<void> =>
  ask(() => proposeNiches({ market_id: id.value ?? "", anew }));
const again = (): Promise<void> => ask(() => analyse(id.value ?? ""));

async function takeOver(): Promise<void> {
  const market_id = id.value;
  if (!market_id) return;
  const named = Object.fromEntries(
    Object.entries(names.value).filter(([niche, name]) => name.trim() && !isLeft(niche)),
  );
  await change(() => takeOverNiches({ market_id, names: named, besides: left.value }));
  await jobs.refetch();
}

async function undo(key: number): Promise<void> {
  if (id.value) await change(() => undoNiches(id.value ?? "", key));
  await jobs.refetch();
}
</script>

<template>
  <div class="grouping">
    <MarketGate
      :pending="!grouping || !market"
      :failure="found.error.value"
      @retry="found.refetch()"
    >
      <template v-if="grouping && market">
        <header>
          <h1 class="serif"><span v-explain="'niches-from-terms'">Niches from terms</span></h1>
          <p>
            {{ terms(grouping.terms) }} in {{ market.name
            }}<template v-if="grouping.alone"
              >, <b>{{ formatCount(grouping.alone) }}</b> of them without a niche</template
            ><template v-if="grouping.by_hand"
              >, {{ formatCount(grouping.by_hand) }} placed by hand</template
            >. Terms after which buyers click the same listings make a niche; where no clicks are
            known, terms that share words do, with less confidence. Nothing changes before you take
            a proposal over, and what you place by hand no proposal and no import moves.
          </p>
        </header>
        <p class="acts">
          <v-btn :disabled="!!job || !grouping.alone" @click="propose(false)"
            >Propose niches for terms without one</v-btn
          >
          <v-btn :disabled="!!job" @click="propose(true)">Group all terms anew</v-btn>
          <RouterLink class="small" :to="{ path: '/terms', query: { market: market.market_id } }"
            >Mark terms in the ledger to make a niche by hand</RouterLink
          >
        </p>
        <p v-if="job" class="work" role="status">
          {{
            job.kind === "propose" ? "Grouping" : job.kind === "analyse" ? "Analysing" : "At work:"
          }}
          {{ job.name }}
          <v-progress-linear
            :model-value="job.whole ? (job.done / job.whole) * 100 : 0"
            :indeterminate="!job.whole"
            aria-label="How far the work is"
          />
        </p>
        <p v-else-if="grouping.pending" class="pending">
          Niches were changed since the last analysis; the figures do not show it yet.
          <v-btn @click="again">Analyse now</v-btn>
        </p>
        <section v-if="proposal" aria-labelledby="proposed">
          <h2 id="proposed" class="serif">
            Proposed {{ formatMoment(proposal.made_at) }}
            <span class="small">{{ proposal.anew ? "all terms" : "terms without a niche" }}</span>
          </h2>
          <ul class="small notes">
            <li v-for="note in proposal.notes" :key="note">{{ note }}</li>
          </ul>
          <p v-if="!proposal.count">
            No term would move: every one is where its clicks and words put it, or belongs with no
            other clearly enough.
          </p>
          <template v-else>
            <p v-if="proposal.outdated" class="pending">
              The niches were changed since, so that this proposal cannot be taken over. Propose
              anew.
            </p>
            <p v-else class="acts">
              <v-btn :disabled="busy || !!job || !wanted" @click="takeOver"
                >Take over {{ niches(wanted) }}</v-btn
              >
              <span class="small">untick what is not to hold; names can be changed</span>
            </p>
            <ProposedTable
              :niches="proposal.niches"
              :fixed="proposal.outdated"
              :names="names"
              :is-left="isLeft"
              @toggle="toggle"
              @name="(niche, name) => (names[niche] = name)"
            />
            <PageSteps v-model="start" :total="proposal.count" :at-once="AT_ONCE" />
          </template>
        </section>
        <section v-if="grouping.changes.length" aria-labelledby="changed">
          <h2 id="changed" class="serif">What was changed</h2>
          <ol class="changes">
            <li v-for="one in grouping.changes" :key="one.id" :class="{ undone: one.undone_at }">
              <span class="small day">{{ formatMoment(one.made_at) }}</span>
              <span>{{ one.sentence }}{{ one.undone_at ? " (undone)" : "" }}</span>
              <v-btn v-if="one.id === latest?.id" :disabled="busy" @click="undo(one.id)"
                >Undo</v-btn
              >
            </li>
          </ol>
        </section>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.grouping {
  max-width: 1180px;
  padding: 14px var(--gutter) 24px;
}

h1 {
  margin: 0 0 4px;
  font-size: 22px;
}

h2 {
  margin: 18px 0 4px;
  font-size: 17px;
}

header p {
  max-width: 78ch;
  margin: 0 0 10px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
  margin: 8px 0;
}

.acts a {
  color: var(--q5);
}

.pending {
  color: var(--ochre-text);
}

.notes {
  margin: 0 0 8px;
  padding-left: 18px;
}

.undone {
  color: var(--ink3);
}

.changes {
  margin: 0;
  padding: 0;
  list-style: none;
}

.changes li > span {
  min-width: 0;
  overflow-wrap: anywhere;
}

.changes li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: baseline;
  padding: 3px 0;
}

.day {
  width: 120px;
}
</style>
