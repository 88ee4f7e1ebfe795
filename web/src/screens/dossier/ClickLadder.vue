<script setup lang="ts">
import { computed } from "vue";
import { formatShare } from "@/format/values";
import type { Rung } from "./ladder";

/** Shares of the clicks as bars, a year ago as a tick, and what the first ones take together. */
const props = defineProps<{ rungs: Rung[]; caption: string }>();

const BREADTH = 0.8;
const most = computed(() =>
  Math.max(0.05, ...props.rungs.map((one) => Math.max(one.share, one.before ?? 0))),
);
/** The rung with which four fifths are reached. */
const breadth = computed(() => props.rungs.findIndex((one) => one.together >= BREADTH));
</script>

<template>
  <v-table>
    <caption class="small">
      {{
        caption
      }}
    </caption>
    <thead>
      <tr>
        <td />
        <th v-explain="'click-share'" scope="col" class="bar">clicks</th>
        <th v-explain="'click-share'" scope="col">now</th>
        <th v-explain="'a-year-ago'" scope="col">a year ago</th>
        <th v-explain="'together'" scope="col">together</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(one, i) in rungs" :key="one.key" :class="{ breadth: i === breadth }">
        <th scope="row" :data-tip="one.name">
          {{ one.name }}
        </th>
        <td class="bar">
          <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
            <rect y="1.5" height="7" :width="(one.share / most) * 100" />
            <path
              :d="`M${(one.together - one.share) * 100} 0L${one.together * 100} 10`"
              class="together"
            />
            <line
              v-if="one.before !== null"
              :x1="(one.before / most) * 100"
              :x2="(one.before / most) * 100"
              y1="0"
              y2="10"
            />
          </svg>
        </td>
        <td>{{ formatShare(one.share) }}</td>
        <td>{{ formatShare(one.before) }}</td>
        <td>
          <span v-if="i === breadth" class="small mark">breadth</span>
          {{ formatShare(one.together) }}
        </td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.v-table :deep(table) {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  align-self: start;
}

caption {
  text-align: left;
}

th,
td {
  text-align: right;
  font-weight: 400;
  width: 62px;
  padding: 2px 8px 2px 0;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule);
}

thead th {
  font: 11px var(--condensed);
  color: var(--ink3);
}

tr > :first-child {
  width: auto;
  text-align: left;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.bar {
  width: 30%;
  text-align: left;
}

/* The line of what they take together runs on from row to row. */
td.bar {
  padding-top: 0;
  padding-bottom: 0;
}

svg {
  display: block;
  width: 100%;
  height: 22px;
}

rect {
  fill: var(--q4);
}

line {
  stroke: var(--ink);
  stroke-width: 1.4;
  vector-effect: non-scaling-stroke;
}

tr > :last-child {
  width: 82px;
}

.mark {
  color: var(--ochre-text);
}

.together {
  fill: none;
  stroke: var(--ink3);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.breadth > * {
  border-bottom: 1px solid var(--ochre);
}
</style>
