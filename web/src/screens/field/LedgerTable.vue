<script setup lang="ts">
import { useVirtualizer } from "@tanstack/vue-virtual";
import { computed, nextTick, ref, watch } from "vue";
import type { Choice, FigureRow, LedgerRow } from "@/api/client";
import MonthHeader from "@/marks/MonthHeader.vue";
import { type Column, NARROWEST } from "./columns";
import LedgerRowView from "./LedgerRowView.vue";
import type { ConditionSaid } from "./useLedger";

const ROW = 29;
const HEAD = 25;

const props = defineProps<{
  count: number;
  rowAt: (place: number) => LedgerRow | undefined;
  /** Place of the selected row. */
  selected: number;
  sort: string;
  asOf: number;
  arrival: number;
  figures: FigureRow[];
  conditions: ConditionSaid[];
  columns: Column[];
  isMarked: (niche: string) => boolean;
}>();
const emit = defineEmits<{
  select: [place: number];
  sort: [key: string];
  decide: [row: LedgerRow, choice: Choice];
  mark: [row: LedgerRow, also: boolean];
  resize: [column: string, width: number];
  working: [place: number, figure: string];
  view: [first: number, last: number];
}>();

const scroller = ref<HTMLElement | null>(null);
const virtual = useVirtualizer(
  computed(() => ({
    count: props.count,
    getScrollElement: () => scroller.value,
    estimateSize: () => ROW,
    scrollMargin: HEAD,
    scrollPaddingStart: HEAD,
    overscan: 4,
  })),
);
const items = computed(() => virtual.value.getVirtualItems());
watch(
  () => [items.value[0]?.index ?? 0, items.value.at(-1)?.index ?? 0] as const,
  ([first, last]) => emit("view", first, last),
);
/** A row that is clicked stays under the pointer, or a second click would meet another one. */
let clicked = false;
function select(place: number): void {
  clicked = place !== props.selected;
  emit("select", place);
}
watch(
  () => props.selected,
  (place) => {
    if (!clicked) virtual.value.scrollToIndex(place, { align: "auto" });
    clicked = false;
  },
);

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

function explain(column: Column): string | undefined {
  const figure = props.figures.find((one) => one.key === column.figure);
  return (
    figure && `${figure.label}: ${figure.formula}. Shift and click sorts by it after the others.`
  );
}

/** What a near miss narrowly fails; nothing for a row that passes. */
function missed(place: number): string | undefined {
  const misses = props.rowAt(place)?.misses;
  if (misses === null || misses === undefined) return undefined;
  return `Narrowly fails: ${props.conditions[misses]?.says ?? "a condition"}`;
}

const registry = computed(() => new Map(props.figures.map((one) => [one.key, one])));

/** Widths as a grid's tracks: those that may go in a narrow window go by container queries. */
function tracks(columns: Column[]): string {
  return columns
    .map(({ key, width }) => {
      if (key === "name") return `minmax(${width}px, 1fr)`;
      return key === "strip" ? `minmax(90px, ${width}px)` : `${width}px`;
    })
    .join(" ");
}
const grid = computed(() => ({
  "--all": tracks(props.columns),
  "--fewer": tracks(props.columns.filter((one) => !one.spare)),
  "--least": tracks(props.columns.filter((one) => !one.spare && !one.wide)),
}));

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
  const stop = (): void => {
    handle.removeEventListener("pointermove", move);
    handle.removeEventListener("pointerup", stop);
  };
  handle.addEventListener("pointermove", move);
  handle.addEventListener("pointerup", stop);
}

function nudge(column: Column, event: KeyboardEvent): void {
  const by = { ArrowLeft: -8, ArrowRight: 8 }[event.key];
  if (!by) return;
  event.preventDefault();
  event.stopPropagation();
  wider(column, by);
}

/** Gives the ledger the keyboard. */
function focus(): void {
  void nextTick(() => scroller.value?.focus({ preventScroll: true }));
}

const page = (): number =>
  Math.max(1, Math.floor(((scroller.value?.clientHeight ?? 0) - HEAD) / ROW) - 1);

defineExpose({ focus, page });
</script>

<template>
  <div
    ref="scroller"
    role="grid"
    class="grid"
    tabindex="0"
    aria-label="Ranked niches"
    :aria-activedescendant="count ? `row-${selected}` : undefined"
    aria-multiselectable="true"
    :aria-rowcount="count + 1"
    :style="grid"
  >
    <div role="row" aria-rowindex="1" class="head row">
      <span
        v-for="column in columns"
        :key="column.key"
        role="columnheader"
        :class="[column.align, { spare: column.spare, wide: column.wide }]"
        :aria-sort="order(column)"
        :data-tip="explain(column)"
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
    <div role="rowgroup" :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }">
      <div
        v-for="item in items"
        :id="`row-${item.index}`"
        :key="item.index"
        role="row"
        :aria-rowindex="item.index + 2"
        :aria-selected="item.index === selected"
        :class="[
          'row',
          'line',
          { selected: item.index === selected, near: missed(item.index) !== undefined },
        ]"
        :data-tip="missed(item.index)"
        :style="{ transform: `translateY(${item.start - HEAD}px)` }"
        @click="select(item.index)"
      >
        <LedgerRowView
          v-if="rowAt(item.index)"
          :row="rowAt(item.index)!"
          :columns="columns"
          :figures="registry"
          :marked="isMarked(rowAt(item.index)!.id)"
          :as-of="asOf"
          :arrival="arrival"
          @decide="emit('decide', rowAt(item.index)!, $event)"
          @mark="emit('mark', rowAt(item.index)!, false)"
          @working="emit('working', item.index, $event)"
        />
        <span v-else role="gridcell" class="waiting small">…</span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.grid {
  min-height: 0;
  flex: 1;
  container-type: inline-size;
  overflow: hidden scroll;
  scrollbar-width: thin;
  scrollbar-color: var(--rule) transparent;
  scrollbar-gutter: stable;
  /* The selected row shows where the keyboard is. */
  outline: none;
}

.row {
  display: grid;
  grid-template-columns: var(--all);
  grid-auto-rows: 28px;
  column-gap: 10px;
  align-items: center;
  padding: 0 var(--gutter);
  box-sizing: border-box;
}

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

.head > span {
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
  right: -8px;
}

.edge:hover,
.edge:focus-visible {
  background: var(--ochre);
}

.right {
  text-align: right;
}

.centre {
  text-align: center;
}

.line {
  position: absolute;
  inset: 0 0 auto 0;
  height: 29px;
  border-bottom: 1px solid var(--rule);
  cursor: default;
}

.selected {
  background: var(--ochre-wash);
  box-shadow:
    inset 0 1px var(--ochre),
    inset 0 -1px var(--ochre);
}

.grid:focus-visible .selected {
  box-shadow:
    inset 4px 0 var(--ochre),
    inset 0 1px var(--ochre),
    inset 0 -1px var(--ochre);
}

.selected :deep(.small) {
  color: var(--ink2);
}

/* Dimmed, and still to be read. */
.near > :deep(*) {
  color: var(--ink3);
  font-style: italic;
}

.near :deep(svg) {
  opacity: 0.5;
}

.waiting {
  grid-column: 3;
}

@container (max-width: 1120px) {
  .row {
    grid-template-columns: var(--fewer);
    column-gap: 8px;
  }

  .row :deep(.spare),
  .head .spare {
    display: none;
  }
}

@container (max-width: 800px) {
  .row {
    grid-template-columns: var(--least);
  }

  .row :deep(.wide),
  .head .wide {
    display: none;
  }
}
</style>
