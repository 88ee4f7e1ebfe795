<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { acrossQueries, type MatchedRow, type ProposedPair, type Crossing } from "@/api/across";
import type { MarketSummary } from "@/api/client";
import { formatCount, yearShare } from "@/format/values";
import DriftMark from "@/marks/DriftMark.vue";
import MonthHeader from "@/marks/MonthHeader.vue";
import ShapeMark from "@/marks/ShapeMark.vue";
import YearStrip from "@/marks/YearStrip.vue";
import PageSteps from "@/ui/PageSteps.vue";
import type { KindWords } from "@/state/useKind";

/** Possible matches of two markets, to confirm or reject, and those that hold. */
const props = defineProps<{
  kind: KindWords;
  market: MarketSummary;
  other: MarketSummary;
  find: string;
  busy: boolean;
}>();
const emit = defineEmits<{
  open: [id: string];
  decide: [pairs: { id: string; other_id: string; name: string }[], same: boolean];
  undo: [match: number];
}>();

const AT_ONCE = 100;
const from = ref({ matched: 0, proposed: 0 });
watch(
  () => [props.kind.of, props.market.market_id, props.other.market_id, props.find],
  () => (from.value = { matched: 0, proposed: 0 }),
);
const asked = (offset: number) => ({
  of: props.kind.of as Crossing,
  market: props.market.market_id,
  other: props.other.market_id,
  find: props.find,
  offset,
});
const matched = useQuery(computed(() => acrossQueries.matched(asked(from.value.matched))));
const proposed = useQuery(computed(() => acrossQueries.proposed(asked(from.value.proposed))));
const same = computed(() => matched.data.value);
const maybe = computed(() => proposed.data.value);
const failure = computed(() => matched.error.value ?? proposed.error.value);

const toPair = (one: ProposedPair | MatchedRow) => ({
  id: one.id,
  other_id: one.other_id,
  name: one.name,
});
/** The row as each of the two markets has it. */
const sidesOf = (one: MatchedRow) => [
  { ...one, place: props.market },
  {
    place: props.other,
    name: one.other_name,
    searches_52w: one.other_searches_52w,
    season_profile: one.other_season_profile,
    shape: one.other_shape,
    drift: one.other_drift,
    drift_rate_year: one.other_drift_rate_year,
    drift_low: one.other_drift_low,
    drift_high: one.other_drift_high,
  },
];
const many = (number: number): string =>
  `${formatCount(number)} ${number === 1 ? "pair" : "pairs"}`;
</script>

<template>
  <p v-if="failure" class="failure" role="alert">{{ failure.message }}</p>
  <section v-if="maybe?.total" aria-labelledby="maybe">
    <h2 id="maybe" class="serif">
      Possible matches
      <span class="small">{{ many(maybe.total) }}; none is used until you confirm it</span>
    </h2>
    <v-table class="wide-table">
      <thead>
        <tr>
          <th scope="col">in {{ market.name }}</th>
          <th v-explain:figure="'searches_52w'" scope="col" class="number">searches/yr</th>
          <th scope="col">in {{ other.name }}</th>
          <th v-explain:figure="'searches_52w'" scope="col" class="number">searches/yr</th>
          <th scope="col">why</th>
          <th scope="col">
            <v-btn
              v-if="maybe.rows.length > 1"
              :disabled="busy"
              @click="emit('decide', maybe.rows.map(toPair), true)"
              >Confirm all {{ formatCount(maybe.rows.length) }}</v-btn
            ><span v-else class="unseen">decision</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in maybe.rows" :key="`${one.id} ${one.other_id}`">
          <th scope="row" class="serif">{{ one.name }}</th>
          <td class="number">{{ formatCount(one.searches_52w) }}</td>
          <td class="serif">{{ one.other_name }}</td>
          <td class="number">{{ formatCount(one.other_searches_52w) }}</td>
          <td class="small">{{ one.why }}</td>
          <td class="word">
            <v-btn :disabled="busy" @click="emit('decide', [toPair(one)], true)"
              >Confirm<span class="unseen"> {{ one.name }}, {{ one.other_name }}</span></v-btn
            >
            <v-btn :disabled="busy" @click="emit('decide', [toPair(one)], false)"
              >Reject<span class="unseen"> {{ one.name }}, {{ one.other_name }}</span></v-btn
            >
          </td>
        </tr>
      </tbody>
    </v-table>
    <PageSteps v-model="from.proposed" :total="maybe.total" :at-once="AT_ONCE" />
  </section>
  <section v-if="same" aria-labelledby="same">
    <h2 id="same" class="serif">
      Matched <span class="small">{{ many(same.total) }}</span>
    </h2>
    <p v-if="!same.total">
      No {{ kind.one }} is matched yet: no id appears in both markets, and no match was
      confirmed.<template v-if="!maybe?.total">
        To choose one, open a {{ kind.one }} in {{ kind.screen }} and press <kbd>e</kbd>.</template
      >
    </p>
    <v-table v-else class="wide-table">
      <thead>
        <tr>
          <template v-for="place in [market, other]" :key="place.market_id">
            <th scope="col">in {{ place.name }}</th>
            <th v-explain="'year-strip'" scope="col" class="year">
              <MonthHeader class="small" /><span class="unseen">year</span>
            </th>
            <th v-explain="'shape'" scope="col"><span class="unseen">shape</span></th>
            <th v-explain:figure="'searches_52w'" scope="col" class="number">searches/yr</th>
            <th v-explain:figure="'drift_rate_year'" scope="col" class="number">drift</th>
          </template>
          <th scope="col">matched by</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in same.rows" :key="`${one.id} ${one.other_id}`">
          <template v-for="side in sidesOf(one)" :key="side.place.market_id">
            <th v-if="side.place === market" scope="row" class="serif">
              <button class="link" @click="emit('open', one.id)">{{ side.name }}</button>
            </th>
            <td v-else class="serif">{{ side.name }}</td>
            <td class="year">
              <YearStrip
                :profile="side.season_profile"
                :as-of="yearShare(side.place.as_of)"
                :arrival="yearShare(side.place.arrival)"
                :label="`Year strip of ${side.name} in ${side.place.name}`"
              />
            </td>
            <td><ShapeMark v-if="side.shape" :shape="side.shape" /></td>
            <td class="number">{{ formatCount(side.searches_52w) }}</td>
            <td class="number"><DriftMark :row="side" /></td>
          </template>
          <td class="word">
            <template v-if="one.how === 'id'"
              ><span class="small">id</span>
              <v-btn :disabled="busy" @click="emit('decide', [toPair(one)], false)"
                >Reject<span class="unseen"> {{ one.name }}</span></v-btn
              ></template
            >
            <template v-else
              ><span class="small">you</span>
              <v-btn
                v-if="one.match_id !== null"
                :disabled="busy"
                @click="emit('undo', one.match_id)"
                >Undo<span class="unseen"> {{ one.name }}</span></v-btn
              ></template
            >
          </td>
        </tr>
      </tbody>
    </v-table>
    <PageSteps v-model="from.matched" :total="same.total" :at-once="AT_ONCE" />
  </section>
  <section v-if="same?.rejected.length" aria-labelledby="rejected">
    <h2 id="rejected" class="serif">Rejected</h2>
    <ul class="small">
      <li v-for="one in same.rejected" :key="one.match_id">
        {{ one.id }} and {{ one.other_id }}
        <v-btn :disabled="busy" @click="emit('undo', one.match_id)"
          >Undo<span class="unseen"> {{ one.id }}</span></v-btn
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  margin-top: 14px;
}

h2 {
  font-size: 17px;
  margin: 0 0 4px;
}

th {
  text-align: left;
  font-weight: 400;
}

.number {
  text-align: right;
}

.year {
  width: 150px;
  min-width: 90px;
}

.year :deep(.strip) {
  height: 14px;
}

.word {
  white-space: nowrap;
}

.word .v-btn {
  margin-left: 10px;
}

.link {
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  text-decoration: underline;
  text-decoration-color: var(--rule);
  cursor: pointer;
}

ul {
  margin: 0;
  padding-left: 18px;
}

.failure {
  color: var(--rust);
}
</style>
