<script setup lang="ts">
import { useVirtualizer } from "@tanstack/vue-virtual";
import { computed, nextTick, ref, watch } from "vue";
import type { Choice, FigureRow, LedgerRow } from "@/api/client";
import type { Column } from "./columns";
import LedgerHead from "./LedgerHead.vue";
import LedgerRowView from "./LedgerRowView.vue";
import { gridTracks } from "./tracks";
import type { ConditionRow } from "./useLedger";

const ROW = 29;
const HEAD = 25;

const props = defineProps<{
  /** What the rows are, for those who do not see them. */
  label: string;
  /** The glossary’s word for what a row stands for. */
  word: string;
  count: number;
  rowAt: (place: number) => LedgerRow | undefined;
  /** Place of the selected row. */
  selected: number;
  sort: string;
  asOf: number;
  arrivalOf: (niche: string) => number;
  figures: FigureRow[];
  conditions: ConditionRow[];
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

/** What a near miss narrowly fails; nothing for a row that passes. */
function missed(place: number): string | undefined {
  const misses = props.rowAt(place)?.misses;
  if (misses === null || misses === undefined) return undefined;
  return `Narrowly fails: ${props.conditions[misses]?.sentence ?? "a condition"}`;
}

const registry = computed(() => new Map(props.figures.map((one) => [one.key, one])));

const grid = computed(() => gridTracks(props.columns));

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
    :aria-label="label"
    :aria-activedescendant="count ? `row-${selected}` : undefined"
    aria-multiselectable="true"
    :aria-rowcount="count + 1"
    :style="grid"
  >
    <LedgerHead
      :columns="columns"
      :sort="sort"
      :figures="figures"
      :word="word"
      @sort="emit('sort', $event)"
      @resize="(column, width) => emit('resize', column, width)"
    />
    <div
      role="rowgroup"
      :style="{
        height: `${virtual.getTotalSize()}px`,
        position: 'relative',
        minWidth: 'var(--least)',
      }"
    >
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
          :arrival="arrivalOf(rowAt(item.index)!.niche)"
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
  overflow: auto scroll;
  scrollbar-width: thin;
  scrollbar-color: var(--rule) transparent;
  scrollbar-gutter: stable;
  /* The selected row shows where the keyboard is. */
  outline: none;
}

.row,
.grid :deep(.head) {
  display: grid;
  grid-template-columns: var(--tracks);
  min-width: var(--least);
  background: var(--paper);
  grid-auto-rows: 28px;
  column-gap: 10px;
  align-items: center;
  padding: 0 var(--gutter);
  box-sizing: border-box;
}

.right {
  right: -8px;
}

.edge:hover,
.edge:focus-visible {
  background: var(--ochre);
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

/* What a row is of stays in sight while the rest goes by beneath. */
.grid :deep(.pinned) {
  position: sticky;
  left: 0;
  z-index: 1;
  margin-left: -10px;
  padding-left: 10px;
  background: inherit;
}

/* The line below the headings goes on under it. */
.grid :deep(.head .pinned) {
  box-shadow: 0 1px var(--rule);
}

.selected :deep(.pinned) {
  box-shadow:
    inset 0 1px var(--ochre),
    inset 0 -1px var(--ochre);
}
</style>
