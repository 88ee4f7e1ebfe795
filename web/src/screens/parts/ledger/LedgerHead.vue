<script setup lang="ts">
import { useEventListener } from "@vueuse/core";
import { computed } from "vue";
import type { FigureRow } from "@/api/client";
import MonthHeader from "@/marks/MonthHeader.vue";
import { type Column, NARROWEST } from "./columns";

/** The ledger's headings: what a column is, sorting by it, and how wide it is. */
const props = defineProps<{
  columns: Column[];
  sort: string;
  figures: FigureRow[];
  /** The glossary’s word for what a row stands for. */
  word: string;
}>();
const emit = defineEmits<{ sort: [key: string]; resize: [column: string, width: number] }>();

const keys = computed(() => props.sort.split(","));
const place = (column: Column): number =>
  keys.value.findIndex((key) => key.replace("-", "") === column.sort);

/** A click sorts by a column, another turns it round; with shift it comes after those there are. */
function sortBy(column: Column, also: boolean): void {
  if (!column.sort) return;
  const at = place(column);
  const down = at >= 0 ? !keys.value[at]?.startsWith("-") : column.first === "down";
  const key = `${down ? "-" : ""}${column.sort}`;
  if (!also) emit("sort", key);
  else if (at >= 0) emit("sort", keys.value.map((old, i) => (i === at ? key : old)).join(","));
  else emit("sort", [...keys.value, key].join(","));
}

function order(column: Column): "ascending" | "descending" | undefined {
  const key = column.sort ? keys.value[place(column)] : undefined;
  if (key === undefined) return undefined;
  return key.startsWith("-") ? "descending" : "ascending";
}

/** ↑ or ↓, and which of several keys it is. */
function arrow(column: Column): string {
  const mark = order(column) === "ascending" ? " ↑" : " ↓";
  return keys.value.length > 1 ? `${mark}${place(column) + 1}` : mark;
}

/** Words of the glossary for columns that show no figure. */
const wordOf = (column: Column): string | undefined =>
  ({ name: props.word, decision: "decision" })[column.key];
/** What the marks in a column's cells mean. */
const MARKS: Record<string, string> = {
  rank: "Below it the band that it moves in when the weights are shaken; ◎ is high under every ready lens.",
  strip: "The darker, the more. Solid line: as of; dashed line: arrival.",
  act: "Or when to order for all of the next season; below it until when half is caught.",
  drift_a_year:
    "Below it the 90% interval. ▲ rises, ▼ eases, ≈ shows no clear direction, ↥ ↧ a lasting step.",
  split: "The upper bar is the season’s part, the lower one the drift; to the right is up.",
  balance: "The bar to the left is competition, the one to the right demand.",
  headroom: "◆ is on the frontier: no niche has both more demand and less competition.",
};
function tip(column: Column): string | undefined {
  const figure = props.figures.find((one) => one.key === column.figure);
  if (!figure) return undefined;
  const sorts = column.sort ? "Shift and click sorts by it after the others." : "";
  const parts = [`${figure.label}: ${figure.formula}.`, MARKS[column.key], sorts];
  return parts.filter(Boolean).join(" ");
}

/** Columns after the niche's, which takes what is left, grow to the left: that edge is theirs. */
const nameAt = computed(() => props.columns.findIndex((column) => column.key === "name"));
const side = (column: Column): "left" | "right" =>
  props.columns.indexOf(column) > nameAt.value ? "left" : "right";
const wider = (column: Column, pixels: number): void =>
  emit("resize", column.key, column.width + (side(column) === "left" ? -pixels : pixels));

/** Drags the edge of a column; the arrow keys do the same. */
function drag(column: Column, start: PointerEvent): void {
  const handle = start.target as HTMLElement;
  handle.setPointerCapture(start.pointerId);
  const move = (event: PointerEvent): void => wider(column, event.clientX - start.clientX);
  const stop = useEventListener(handle, "pointermove", move);
  useEventListener(handle, "pointerup", stop, { once: true });
}

function nudge(column: Column, event: KeyboardEvent): void {
  const by = { ArrowLeft: -8, ArrowRight: 8 }[event.key];
  if (!by) return;
  event.preventDefault();
  event.stopPropagation();
  wider(column, by);
}
</script>

<template>
  <div role="row" aria-rowindex="1" class="head">
    <span
      v-for="column in columns"
      :key="column.key"
      role="columnheader"
      :class="[column.align, { pinned: column.key === 'name' }]"
      :aria-sort="order(column)"
      :data-tip="tip(column)"
      :data-word="wordOf(column)"
    >
      <MonthHeader v-if="column.key === 'strip'" />
      <button v-else-if="column.sort" class="sort" @click="sortBy(column, $event.shiftKey)">
        {{ column.head }}<span v-if="order(column)" aria-hidden="true">{{ arrow(column) }}</span>
      </button>
      <span v-else :class="{ unseen: column.key === 'decision' }">{{
        column.key === "decision" ? "decision" : column.head
      }}</span>
      <span
        v-if="column.key !== 'decision' && column.key !== 'name'"
        :class="['edge', side(column)]"
        role="separator"
        tabindex="0"
        aria-orientation="vertical"
        :aria-label="`Width of ${column.called ?? column.head}`"
        :aria-valuenow="column.width"
        :aria-valuemin="NARROWEST"
        @pointerdown.prevent="drag(column, $event)"
        @keydown="nudge(column, $event)"
      />
    </span>
  </div>
</template>

<style scoped>
.head {
  grid-auto-rows: 24px;
  height: 25px;
  font: 11px/1.2 var(--condensed);
  color: var(--ink2);
  border-bottom: 1px solid var(--rule);
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--paper);
}

.sort {
  background: none;
  border: 0;
  padding: 4px 0;
  cursor: pointer;
  white-space: nowrap;
}

.head > span:not(.pinned) {
  position: relative;
}

.edge {
  position: absolute;
  top: 0;
  width: 5px;
  height: 20px;
  cursor: col-resize;
  touch-action: none;
}

.edge.left {
  left: -8px;
}

.edge.right {
  text-align: right;
}

.centre {
  text-align: center;
}
</style>
