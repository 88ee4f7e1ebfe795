<script setup lang="ts">
import { computed, defineAsyncComponent } from "vue";
import {
  type Choice,
  LISTINGS,
  type MarketSummary,
  NICHES,
  type SubjectPreview,
} from "@/api/client";
import type { HolderPreview, ListingPreview } from "@/api/rivals";
import DecisionMarks from "@/marks/DecisionMarks.vue";
import GrowthBars from "@/marks/GrowthBars.vue";
import MonthHeader from "@/marks/MonthHeader.vue";
import ProtectedMark from "@/marks/ProtectedMark.vue";
import SignalLine from "@/marks/SignalLine.vue";
import VerdictText from "@/marks/VerdictText.vue";
import YearStrip from "@/marks/YearStrip.vue";
import { holderFacts, listingFacts, sixFacts } from "@/format/facts";
import { addDays, splitText, yearShare } from "@/format/values";
import { useKind } from "@/state/useKind";
import NicheTables from "./NicheTables.vue";
import RivalTables from "./RivalTables.vue";
import TermTable from "./TermTable.vue";

/** Everything a yes or no needs, on one page. */
const props = defineProps<{ subject: SubjectPreview; market: MarketSummary }>();
defineEmits<{ decide: [choice: Choice] }>();

const kind = useKind();
const CurveChart = defineAsyncComponent(() => import("@/charts/CurveChart.vue"));
const YearsChart = defineAsyncComponent(() => import("@/charts/YearsChart.vue"));

const f = computed(() => props.subject.figures);
/** What decides differs by what it is; the figures are its kind's own. */
const facts = computed(() => {
  const own = props.subject as unknown;
  if (kind.of === LISTINGS) return listingFacts((own as ListingPreview).figures);
  if (kind.curve === "units") return holderFacts((own as HolderPreview).figures);
  return sixFacts(f.value);
});
</script>

<template>
  <article class="card" :aria-label="subject.name">
    <header>
      <h1 class="serif">{{ subject.name }}<ProtectedMark :hint="subject.protected" /></h1>
      <span class="small"
        >{{ subject.category
        }}<template v-if="kind.of !== NICHES && subject.niche_name">
          · {{ subject.niche_name }}</template
        ></span
      >
      <DecisionMarks
        :decision="subject.decision"
        :name="subject.name"
        @decide="$emit('decide', $event)"
      />
    </header>
    <div class="look">
      <CurveChart v-if="subject.values.length" class="curve" :subject="subject" />
      <p v-else class="curve">There is no curve to look at.</p>
      <div class="year">
        <MonthHeader class="small" />
        <YearStrip
          class="strip"
          :profile="f.season_profile"
          :as-of="yearShare(market.as_of)"
          :arrival="yearShare(addDays(market.planning_date, subject.lead_days))"
          :label="`Year strip of ${subject.name}`"
        />
      </div>
      <YearsChart v-if="subject.years.length > 1" class="years" :subject="subject" />
    </div>
    <div class="read">
      <dl class="facts">
        <div v-for="fact in facts" :key="fact.head">
          <dt v-explain:figure="fact.of" class="small">{{ fact.head }}</dt>
          <dd class="serif">{{ fact.figure }}</dd>
          <dd class="small">{{ fact.beside }}</dd>
        </div>
      </dl>
      <p class="split">
        <span class="small">13 weeks against the 13 before</span>
        <GrowthBars :season="f.growth_13w_season" :drift="f.growth_13w_drift" />
        <span class="small">
          {{ splitText(f) }}
        </span>
      </p>
      <div class="words">
        <SignalLine :signals="subject.signals" />
        <VerdictText :subject="subject" />
      </div>
      <NicheTables v-if="kind.of === NICHES" :market="market.market_id" :niche="subject.id" />
      <RivalTables v-else-if="kind.curve === 'units'" :id="subject.id" :market="market.market_id" />
      <TermTable v-else :market="market.market_id" :niche="subject.niche" :term="subject.id" />
    </div>
  </article>
</template>

<style scoped>
.card {
  position: relative;
  display: grid;
  grid-template-columns: minmax(0, 1.45fr) minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px 30px;
  padding: 12px var(--gutter) 10px;
  min-height: 0;
  flex: 1;
}

header {
  grid-column: 1 / -1;
  display: flex;
  align-items: baseline;
  gap: 14px;
}

h1 {
  font-size: 26px;
  font-weight: 600;
  line-height: 1.15;
  margin: 0;
}

.look {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
}

.curve {
  flex: 3;
  min-height: 120px;
}

.years {
  flex: 2;
  min-height: 100px;
}

.strip {
  height: 22px;
}

.read {
  position: relative;
  overflow-y: auto;
  scrollbar-width: thin;
  min-height: 0;
}

.facts {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  margin: 0;
  border-top: 1px solid var(--ink);
}

.facts > div {
  padding: 6px 8px 6px 0;
  border-bottom: 1px solid var(--rule);
}

dd {
  margin: 0;
}

dd.serif {
  font-size: 20px;
  line-height: 1.2;
}

.split {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 0 10px;
  margin: 6px 0;
}

.words {
  font: 14px/1.38 var(--serif);
  color: var(--ink2);
  margin-bottom: 8px;
}

@media (max-width: 820px) {
  .card {
    display: block;
    overflow-y: auto;
  }

  .look {
    height: 420px;
    margin: 8px 0;
  }
}
</style>
