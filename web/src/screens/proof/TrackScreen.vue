<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, watch } from "vue";
import { useRouter } from "vue-router";
import type { ApiError } from "@/api/client";
import { LENSES } from "@/api/desk";
import { intakeQueries } from "@/api/intake";
import {
  PROOF,
  proofQueries,
  type Replayed,
  replayPast,
  takeFittedLens,
  type TrackLine,
} from "@/api/proof";
import { registryQueries } from "@/api/registry";
import HeldChart from "@/charts/HeldChart.vue";
import { formatDay, formatMoment } from "@/format/values";
import { writeLens } from "@/screens/parts/lens/useLens";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { KINDS } from "@/state/useKind";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { usePart } from "@/state/usePart";
import { useTabTitle } from "@/state/useTabTitle";
import FileLinks from "@/ui/FileLinks.vue";
import SelectField from "@/ui/SelectField.vue";
import FittedPart from "./FittedPart.vue";
import ForecastTable from "./ForecastTable.vue";
import LaunchPart from "./LaunchPart.vue";
import SignalTable from "./SignalTable.vue";

/** The market's own past as the judge: what was said on past days, and how far it held. */
const { market, id } = useMarket();
const { notify } = useNotice();
const cache = useQueryClient();
const router = useRouter();
const part = usePart();
useTabTitle("Track record");

const of = part<Replayed>(
  "of",
  ([text]) => (text === "terms" || text === "categories" ? text : "niches"),
  (one) => one,
);
const AHEAD = [13, 26, 52];
const weeks = part<number>(
  "weeks",
  ([text]) => AHEAD.find((one) => String(one) === text) ?? 13,
  (one) => String(one),
);

const found = useQuery(
  computed(() => ({
    ...proofQueries.record(id.value ?? "", of.value),
    enabled: Boolean(market.value),
  })),
);
const record = computed(() => found.data.value);
const made = computed(() => record.value?.made ?? undefined);
const lines = (wanted: TrackLine["part"]): TrackLine[] =>
  (record.value?.lines ?? []).filter((one) => one.part === wanted);
const told = (wanted: TrackLine["part"], ...measures: string[]): TrackLine[] =>
  lines(wanted).filter((one) => measures.includes(one.measure) && !one.category);
const levels = computed(() =>
  told("forecast", "within_level")
    .filter((one) => one.weeks === weeks.value)
    .map((one) => ({
      x: Number(one.group),
      name: `meant to hold ${Math.round(Number(one.group) * 100)}%`,
      value: one.value,
      low: one.low,
      high: one.high,
      many: one.observations,
    })),
);
const ofAll = computed(() =>
  told("forecast", "against_naive", "within", "bias").filter(
    (one) => one.weeks === weeks.value && !one.group,
  ),
);
const shapes = computed(() =>
  told("shape", "kept", "kept_if_sure").filter((one) => one.value !== null),
);
const growth = computed(() =>
  told("drift", "growth").filter((one) => one.group && one.value !== null),
);
const few = computed(() =>
  [...told("shape", "kept"), ...told("drift", "growth")]
    .filter((one) => one.value === null)
    .map((one) => one.group)
    .join(", "),
);
const misses = computed(() => record.value?.misses ?? []);

const jobs = useQuery(intakeQueries.jobs());
const job = computed(() => {
  const last = jobs.data.value?.[0];
  return last && ["waiting", "running"].includes(last.state) ? last : undefined;
});
watch(job, (now, before) => {
  if (!before || now) return;
  void cache.invalidateQueries({ queryKey: PROOF });
  const ended = jobs.data.value?.[0];
  if (ended?.kind === "replay")
    notify(ended.messages.join(" ") || `The past was not replayed: ${ended.state}.`);
});

async function replay(anew: boolean): Promise<void> {
  try {
    await replayPast(id.value ?? "", of.value, anew);
  } catch (error) {
    notify((error as ApiError).message, true);
  }
  await jobs.refetch();
}

async function take(): Promise<void> {
  try {
    const lens = await takeFittedLens(id.value ?? "");
    await cache.invalidateQueries({ queryKey: LENSES });
    const parts = await cache.ensureQueryData(registryQueries.parts("niches", undefined));
    notify(`Kept as “${lens.name}”.`);
    await router.push({
      path: "/field",
      query: { market: id.value, lens: writeLens(lens.weights, parts) || undefined },
    });
  } catch (error) {
    notify((error as ApiError).message, true);
  }
}

const pageOf = (subject: string) => {
  const { home, page, named } = KINDS[of.value];
  const where = of.value === "terms" ? "seed" : named;
  return { path: page ?? home, query: { market: id.value, [where]: subject } };
};
const query = computed(
  () => `market=${encodeURIComponent(id.value ?? "")}&of=${encodeURIComponent(of.value)}`,
);
const KIND_CHOICES: { title: string; value: Replayed }[] = [
  { title: "niches", value: "niches" },
  { title: "terms", value: "terms" },
  { title: "categories", value: "categories" },
];
</script>

<template>
  <MarketGate
    :pending="!record || !market"
    :failure="record ? null : found.error.value"
    @retry="found.refetch()"
  >
    <main v-if="record && market" class="page" tabindex="0" aria-label="Track record">
      <header class="head">
        <h1 v-explain="'track-record'" class="serif">Track record</h1>
        <label class="shown"
          >Of <SelectField v-model="of" label="What is judged" :items="KIND_CHOICES"
        /></label>
        <span class="grow" />
        <FileLinks v-if="made" :address="`/api/track-record/file/?${query}`" what="the record" />
        <v-btn v-if="made" :disabled="!!job" @click="replay(true)">Replay all days anew</v-btn>
      </header>
      <p v-if="found.error.value" class="problem" role="alert">{{ found.error.value.message }}</p>

      <section aria-labelledby="track-basis" class="step">
        <h2 id="track-basis" class="serif">What it rests on</h2>
        <p v-if="!made">
          Nothing was replayed yet. Driftfield can analyse {{ market.name }} as it was known on
          earlier days, a quarter apart, and hold what it would have said against what came: how far
          forecasts and dates held, and whether launches worked where it saw headroom.
        </p>
        <p v-else-if="made.outdated" class="stale">
          {{ made.outdated }} What follows was said by the method or the settings of then, and is
          not repeated on other pages. Replay it to hold the present ones against the past.
        </p>
        <p v-if="made">
          Made {{ formatMoment(made.made_at) }}, from figures up to {{ formatDay(made.as_of) }}.
          <template v-if="made.due">A further day can be replayed.</template>
        </p>
        <p v-if="!made || made.outdated || made.due">
          <v-btn :disabled="!!job" @click="replay(false)">{{
            made?.due && !made.outdated ? "Go on by a day" : "Replay the past"
          }}</v-btn>
        </p>
        <p v-if="job" class="work" role="status">
          {{ job.step || job.name
          }}<template v-if="job.whole">: {{ job.done }} of {{ job.whole }} {{ job.unit }}</template>
          <v-progress-linear
            :model-value="job.whole ? (job.done / job.whole) * 100 : 0"
            :indeterminate="!job.whole"
            aria-label="How far the work is"
          />
        </p>
        <ul v-if="record.limits.length" class="plain">
          <li v-for="one in record.limits" :key="one">{{ one }}</li>
        </ul>
      </section>

      <template v-if="made">
        <section v-if="of === 'niches'" aria-labelledby="track-launches" class="step">
          <h2 id="track-launches" class="serif">Launches</h2>
          <LaunchPart :lines="lines('launch')" />
        </section>
        <section v-if="record.lens" aria-labelledby="track-lens" class="step">
          <h2 id="track-lens" class="serif">Weights from launches</h2>
          <FittedPart :lens="record.lens" :outdated="!!made.outdated" @take="take" />
        </section>
        <section aria-labelledby="track-forecasts" class="step">
          <h2 id="track-forecasts" class="serif">Forecasts</h2>
          <div>
            <p class="ahead">
              <SelectField
                v-model="weeks"
                label="How far ahead"
                :items="AHEAD.map((one) => ({ title: `${one} weeks ahead`, value: one }))"
              />
            </p>
            <p v-for="one in ofAll" :key="one.measure">{{ one.sentence }}</p>
            <div class="sides">
              <ForecastTable :lines="lines('forecast')" :weeks="weeks" :of="of" />
              <HeldChart
                class="chart"
                :points="levels"
                :meant="null"
                :label="`What intervals held, ${weeks} weeks ahead`"
                along="share an interval is meant to hold"
                up="held"
                >Totals that fell within their interval · dashed: as meant</HeldChart
              >
            </div>
          </div>
        </section>
        <section aria-labelledby="track-dates" class="step">
          <h2 id="track-dates" class="serif">Dates</h2>
          <ul class="plain">
            <li v-for="one in lines('season')" :key="one.measure">{{ one.sentence }}</li>
          </ul>
        </section>
        <section aria-labelledby="track-shapes" class="step">
          <h2 id="track-shapes" class="serif">Shapes and drift</h2>
          <ul class="plain">
            <li v-for="one in shapes" :key="`${one.measure}${one.group}`">{{ one.sentence }}</li>
            <li v-for="one in growth" :key="one.group">{{ one.sentence }}</li>
            <li v-if="few" class="small">Too few cases: {{ few }}.</li>
          </ul>
        </section>
        <section v-if="of !== 'categories'" aria-labelledby="track-signals" class="step">
          <h2 id="track-signals" class="serif">After signals</h2>
          <SignalTable :lines="lines('signal')" />
        </section>
        <section v-if="of !== 'categories'" aria-labelledby="track-ranks" class="step">
          <h2 id="track-ranks" class="serif">Rank bands</h2>
          <ul class="plain">
            <li v-for="one in lines('rank')" :key="one.weeks">{{ one.sentence }}</li>
          </ul>
        </section>
        <section aria-labelledby="track-misses" class="step">
          <h2 id="track-misses" class="serif">Worst misses</h2>
          <p v-if="!misses.length">No forecast and no date was far off.</p>
          <ul v-else class="plain misses">
            <li v-for="one in misses" :key="one.part + one.id">
              <RouterLink v-if="one.there" class="serif" :to="pageOf(one.id)">{{
                one.name
              }}</RouterLink><span v-else class="serif">{{ one.name }}</span
              >{{ one.sentence.slice(one.name.length) }}
            </li>
          </ul>
        </section>
      </template>
    </main>
  </MarketGate>
</template>

<style scoped>
.page {
  height: 100%;
  overflow-y: auto;
  scrollbar-width: thin;
}

.page > * {
  max-width: 1180px;
  margin-inline: var(--gutter);
}

.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
  padding: 8px 0 6px;
}

h1 {
  margin: 0;
  font-size: 19px;
}

.shown {
  display: inline-flex;
  gap: 8px;
  align-items: baseline;
}

.grow {
  flex: 1;
}

.step {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 0 18px;
  padding: 10px 0;
  border-top: 1px solid var(--ink3);
}

.step > * {
  grid-column: 2;
}

.step > h2 {
  grid-row: 1 / span 40;
  grid-column: 1;
  margin: 0;
  font-size: 16px;
}

p {
  margin: 0 0 4px;
}

.plain {
  margin: 0;
  padding: 0;
  list-style: none;
}

.plain li {
  padding: 1px 0;
}

.misses a {
  color: inherit;
}

.misses .serif {
  font-size: 15px;
}

.sides {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 34px;
  margin-top: 6px;
}

.sides > :first-child {
  flex: none;
  max-width: 100%;
}

.chart {
  flex: 1 1 300px;
  height: 290px;
}

.plain .small {
  color: var(--ink3);
}

.work {
  max-width: 420px;
}

.stale,
.problem {
  color: var(--rust);
}

@media (max-width: 760px) {
  .step {
    display: block;
  }
}
</style>
