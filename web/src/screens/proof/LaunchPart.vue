<script setup lang="ts">
import { computed, ref } from "vue";
import type { TrackLine } from "@/api/proof";
import HeldChart from "@/charts/HeldChart.vue";
import { formatCount, formatShare } from "@/format/values";
import SelectField from "@/ui/SelectField.vue";

/** What became of launches: by decile of headroom, by what scores would have told, and by category. */
const props = defineProps<{ lines: TrackLine[] }>();

const SCORES: Record<string, string> = {
  headroom: "more headroom",
  demand: "more demand alone",
  competition: "less competition alone",
  searches_52w: "more searches alone",
};

const of = (measure: string): TrackLine[] => props.lines.filter((one) => one.measure === measure);
const all = computed(() => of("worked").find((one) => !one.category));
const by = ref("headroom");
const BY = [
  { title: "headroom", value: "headroom" },
  { title: "demand alone", value: "demand" },
  { title: "lack of competition alone", value: "competition" },
  { title: "searches alone", value: "searches_52w" },
];
const score = computed(() => BY.find((one) => one.value === by.value)?.title ?? "");
const deciles = computed(() =>
  of(`worked_by_${by.value}`).map((one) => ({
    x: Number(one.group),
    name: `decile ${one.group} by ${score.value}`,
    value: one.value,
    low: one.low,
    high: one.high,
    many: one.observations,
  })),
);
const scores = computed(() =>
  of("area")
    .filter((one) => !one.category)
    .map((area) => ({
      area,
      lift: of("lift").find((one) => one.group === area.group),
      name: SCORES[area.group] ?? area.group,
    })),
);
const categories = computed(() =>
  of("worked")
    .filter((one) => one.category)
    .map((worked) => ({
      worked,
      area: of("area").find((one) => one.category === worked.category),
    })),
);
const ends = (line: TrackLine | undefined): string =>
  line?.low == null ? "" : `${formatShare(line.low)} to ${formatShare(line.high)}`;
const times = (value: number | null | undefined): string =>
  value == null ? "–" : value.toFixed(1);
const sure = (line: TrackLine | undefined, at: number): boolean =>
  line?.low != null && line.high != null && (line.low > at || line.high < at);
</script>

<template>
  <div>
    <p v-if="all">{{ all.sentence }}</p>
    <div v-if="all?.value != null" class="sides">
      <div v-if="deciles.length">
        <label class="by"
          >By <SelectField v-model="by" label="What launches are told by" :items="BY"
        /></label>
        <HeldChart
          class="chart"
          :points="deciles"
          :meant="all.value"
          :ends="[0, 11]"
          :label="`Launches that worked by decile of ${score}`"
          :along="`decile by ${score} on the day, 10 the most`"
          up="worked"
          >Share of launches that worked, with its interval · line: all launches</HeldChart
        >
      </div>
      <div class="scroll" tabindex="0" role="region" aria-label="What would have told launches">
        <table class="facts">
          <thead>
            <tr>
              <th v-explain="'launched-where'" scope="col" class="name">
                launched where there was
              </th>
              <th v-explain="'pairs-told'" scope="col" class="ranged">pairs told right</th>
              <th v-explain="'top-tenth'" scope="col" class="ranged">top tenth</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="{ area, lift, name } in scores" :key="area.group">
              <th scope="row" class="name">{{ name }}</th>
              <td :class="{ chance: !sure(area, 0.5) }">
                {{ formatShare(area.value) }} <span class="small">{{ ends(area) }}</span>
              </td>
              <td :class="{ chance: !sure(lift, 1) }">
                {{ times(lift?.value) }}×
                <span v-if="lift?.low != null" class="small"
                  >{{ times(lift.low) }} to {{ times(lift.high) }}</span
                >
              </td>
            </tr>
            <tr>
              <th scope="row" class="name">nothing: at random</th>
              <td>50% <span class="small" /></td>
              <td>1.0× <span class="small" /></td>
            </tr>
          </tbody>
        </table>
        <p class="small">Grey: this may be chance.</p>
        <table v-if="categories.length" class="facts">
          <thead>
            <tr>
              <th v-explain="'category'" scope="col" class="name">category</th>
              <th v-explain="'track-cases'" scope="col">launches</th>
              <th v-explain="'worked'" scope="col">worked</th>
              <th v-explain="'pairs-told'" scope="col" class="ranged">told right by headroom</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="{ worked, area } in categories" :key="worked.category">
              <th scope="row" class="name">{{ worked.name }}</th>
              <td>{{ formatCount(worked.observations) }}</td>
              <td>{{ formatShare(worked.value) }}</td>
              <td :class="{ chance: !sure(area, 0.5) }">
                {{ formatShare(area?.value) }} <span class="small">{{ ends(area) }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  </div>
</template>

<style scoped src="./record.css" />
<style scoped>
p {
  margin: 0 0 2px;
}

.sides {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 430px), 1fr));
  gap: 8px 34px;
  align-items: start;
}

.chart {
  height: 290px;
}

.by {
  display: inline-flex;
  gap: 8px;
  align-items: baseline;
}

.chance {
  color: var(--ink3);
}

table + .small {
  margin: 2px 0 12px;
  color: var(--ink3);
}
</style>
