<script setup lang="ts">
import { computed } from "vue";
import type { Replayed, TrackLine } from "@/api/proof";
import { formatChange, formatCount, formatInterval, formatShare } from "@/format/values";
import { KINDS } from "@/state/useKind";

/** How far forecasts held so many weeks ahead: of all, by shape and by category. */
const props = defineProps<{ lines: TrackLine[]; weeks: number; of: Replayed }>();

interface Row {
  key: string;
  name: string;
  first: boolean;
  off?: TrackLine;
  against?: TrackLine;
  within?: TrackLine;
}

const rows = computed(() => {
  const found = new Map<string, Row>();
  for (const line of props.lines.filter((one) => one.weeks === props.weeks)) {
    const key = `${line.category}|${line.group}`;
    const row = found.get(key) ?? { key, name: line.name ?? (line.group || "All"), first: false };
    found.set(key, row);
    if (line.measure === "off") row.off = line;
    if (line.measure === "against_naive") row.against = line;
    if (line.measure === "within") row.within = line;
  }
  const all = [...found.values()].filter((one) => one.off);
  const category = all.findIndex((one) => !one.key.startsWith("|"));
  return all.map((one, i) => ({ ...one, first: i === 1 || i === category }));
});
const few = (line: TrackLine | undefined): boolean => line?.value == null;
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Forecasts by shape and category">
    <table class="facts">
      <thead>
        <tr>
          <th v-explain="KINDS[of].one" scope="col" class="name">{{ of }}</th>
          <th v-explain="'track-cases'" scope="col">cases</th>
          <th v-explain="'eight-in-ten'" scope="col">eight in ten within</th>
          <th v-explain="'last-years-figures'" scope="col">last year’s figures within</th>
          <th v-explain="'missed-by'" scope="col" class="ranged">missed by, against last year’s</th>
          <th v-explain="'in-interval'" scope="col" class="ranged">in their interval</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.key" :class="{ first: row.first }">
          <th scope="row" class="name">{{ row.name }}</th>
          <td>{{ formatCount(row.off?.observations) }}</td>
          <template v-if="few(row.off)">
            <td colspan="4" class="few">too few</td>
          </template>
          <template v-else>
            <td>{{ formatShare(row.off?.value) }}</td>
            <td>{{ formatShare(row.off?.beside) }}</td>
            <td>
              {{ formatChange(row.against?.value) }}
              <span v-if="row.against?.low != null" class="small">
                {{ formatInterval(row.against.low, row.against.high) }}</span
              >
            </td>
            <td>
              {{ formatShare(row.within?.value) }}
              <span v-if="row.within?.low != null" class="small">
                {{ formatShare(row.within.low) }} to {{ formatShare(row.within.high) }}</span
              >
            </td>
          </template>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped src="./record.css" />
