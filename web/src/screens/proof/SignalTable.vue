<script setup lang="ts">
import { computed } from "vue";
import type { TrackLine } from "@/api/proof";
import { formatChange, formatCount, formatInterval } from "@/format/values";

/** How demand went on in the year after each signal, compared with similar niches. */
const props = defineProps<{ lines: TrackLine[] }>();
const told = computed(() =>
  props.lines
    .filter((one) => one.value !== null)
    .sort((a, b) => Number(b.stands) - Number(a.stands) || (a.chance ?? 1) - (b.chance ?? 1)),
);
const few = computed(() => props.lines.filter((one) => one.value === null));
</script>

<template>
  <div>
    <div v-if="told.length" class="scroll" tabindex="0" role="region" aria-label="After signals">
      <table class="facts">
        <thead>
          <tr>
            <th v-explain="'signal'" scope="col" class="name">signal</th>
            <th v-explain="'track-cases'" scope="col">cases</th>
            <th v-explain="'after-signal'" scope="col" class="ranged">demand a year later</th>
            <th v-explain="'beyond-chance'" scope="col" class="name word">beyond chance</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in told" :key="one.group">
            <th scope="row" class="name">{{ one.name }}</th>
            <td>{{ formatCount(one.observations) }}</td>
            <td>
              {{ formatChange(one.value) }}
              <span v-if="one.low !== null" class="small">{{
                formatInterval(one.low, one.high)
              }}</span>
            </td>
            <td class="name word">{{ one.stands ? "yes" : "no" }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="few.length" class="small">
      Too few cases: {{ few.map((one) => one.name).join(", ") }}.
    </p>
  </div>
</template>

<style scoped src="./record.css" />
<style scoped>
.facts .word {
  padding-left: 22px;
}

p {
  margin: 6px 0 0;
  color: var(--ink3);
}
</style>
