<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import type { NicheOwn } from "@/api/ownPart";
import HistoryChart from "@/charts/HistoryChart.vue";
import { formatMoney } from "@/format/money";
import { formatDay, formatShare } from "@/format/values";
import OwnSplitCells from "@/screens/parts/OwnSplitCells.vue";

/** Own part: one’s sales beside all that is sold, their growth split, and where clicks went. */
const props = defineProps<{
  own: NicheOwn;
  name: string;
  market: string;
}>();
type Curve = Schemas["ShownCurve"];

const part = computed(() => props.own.part);
const byUnits = computed(() => part.value?.by === "units");
const curves = computed<Curve[]>(() => {
  const found = part.value;
  if (!found) return [];
  const { first, units, market } = found.curve;
  const strip = (key: string, label: string, unit: string, values: (number | null)[]): Curve => ({
    key,
    label,
    unit,
    first,
    period: found.period,
    seasonal: false,
    values,
  });
  const shares = units.map((own, i) => {
    const whole = market[i];
    return own === null || !whole ? null : (100 * own) / whole;
  });
  return [
    strip("own", "You sold", "units", units),
    byUnits.value
      ? strip("market", "Sold in the niche", "units", market)
      : strip("market", "Searched in the niche", "searches", market),
    byUnits.value
      ? strip("share", "Your share", "%", shares)
      : strip("share", "You sold of a hundred searches", "units", shares),
  ];
});
const known = computed(() => part.value?.comparisons.filter((one) => one.own_now !== null) ?? []);
const money = computed(() => known.value.some((one) => one.revenue_now !== null));
const points = (share: number): string =>
  `${share > 0 ? "+" : share < 0 ? "−" : ""}${Math.abs(share * 100).toFixed(1)} points`;
const clear = (one: { ratio_low: number | null; ratio_high: number | null }): boolean =>
  one.ratio_low !== null && (one.ratio_low > 0 || (one.ratio_high ?? 1) < 0);
</script>

<template>
  <template v-if="part">
    <HistoryChart class="chart" :title="`Your sales of ${name}`" :curves="curves" />
    <p v-if="known.length" class="small">
      Your growth is season × market × share, exactly; 90% intervals in brackets, by a season that
      is taken as known.
    </p>
    <div class="wide" tabindex="0" role="region" aria-label="Your growth, and what made it">
      <v-table v-if="known.length" density="compact" class="split">
        <thead>
          <tr>
            <th scope="col">time</th>
            <th scope="col" class="number">you then</th>
            <th scope="col" class="number">now</th>
            <th v-if="money" scope="col" class="number">revenue now</th>
            <th scope="col" class="number">your growth</th>
            <th scope="col" class="number">season</th>
            <th scope="col" class="number">market</th>
            <th scope="col" class="number">your share</th>
            <th v-if="byUnits" scope="col" class="number">share then, now</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in known" :key="`${one.weeks} ${one.against}`">
            <th scope="row" :title="one.sentence ?? undefined">
              {{ one.length }}
              <span class="small">{{
                one.against === "a year before" ? "on a year before" : "on those before"
              }}</span>
            </th>
            <OwnSplitCells :one="one">
              <td v-if="money" class="number">{{ formatMoney(one.revenue_now) }}</td>
            </OwnSplitCells>
            <td v-if="byUnits" class="number">
              {{ formatShare(one.share_then) }}, {{ formatShare(one.share_now) }}
            </td>
          </tr>
        </tbody>
      </v-table>
    </div>
    <template v-if="part.lost">
      <h3>Where the clicks went</h3>
      <p class="small">
        {{ formatDay(part.lost.from) }} to {{ formatDay(part.lost.to) }}, against the time that is
        compared first. A share of clicks says nothing of who bought.
        <template v-if="!part.lost.counted"
          >How many clicked is not known, so it is not told how sure this is.</template
        >
      </p>
      <div class="pair">
        <v-table density="compact">
          <thead>
            <tr>
              <th scope="col">after the term</th>
              <th scope="col" class="number">your share then</th>
              <th scope="col" class="number">now</th>
              <th
                scope="col"
                class="number"
                data-tip="Of all clicks of the niche, by the change of your share of this term’s."
              >
                lost or gained
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in part.lost.terms" :key="one.term" :class="{ sure: clear(one) }">
              <th scope="row">
                <RouterLink :to="{ path: '/terms', query: { market, seed: one.term } }">{{
                  one.term
                }}</RouterLink>
              </th>
              <td class="number">{{ formatShare(one.share_then) }}</td>
              <td class="number">{{ formatShare(one.share_now) }}</td>
              <td class="number">
                {{ one.lost === null ? "–" : points(-one.lost) }}
                <span v-if="part.lost.counted && !clear(one)" class="small">may be chance</span>
              </td>
            </tr>
          </tbody>
        </v-table>
        <v-table density="compact">
          <thead>
            <tr>
              <th scope="col">listing</th>
              <th scope="col" class="number">clicks then</th>
              <th scope="col" class="number">now</th>
              <th scope="col" class="number">lost or gained</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in part.lost.listings" :key="one.listing_id" :class="{ mine: one.mine }">
              <th scope="row">
                <RouterLink
                  :to="{ path: '/listing', query: { market, listing: one.listing_id } }"
                  >{{ one.name }}</RouterLink
                >
                <span v-if="one.mine" class="small"> yours</span>
              </th>
              <td class="number">{{ formatShare(one.share_then) }}</td>
              <td class="number">{{ formatShare(one.share_now) }}</td>
              <td class="number">{{ points(one.gained) }}</td>
            </tr>
          </tbody>
        </v-table>
      </div>
    </template>
  </template>
</template>

<style scoped>
h3 {
  font: 600 13px var(--sans);
  margin: 14px 0 4px;
}

.chart {
  margin-bottom: 8px;
}

.wide {
  overflow-x: auto;
}

th[scope="row"] {
  font-weight: 400;
  text-align: left;
}

.split th[scope="row"] {
  white-space: nowrap;
}

.pair {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 400px), 1fr));
  gap: 4px 34px;
  align-items: start;
}

.pair a {
  color: inherit;
  text-decoration: none;
}

.pair a:hover {
  text-decoration: underline;
}

.mine th,
.sure td {
  font-weight: 600;
}
</style>
