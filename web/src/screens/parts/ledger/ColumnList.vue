<script setup lang="ts">
import { computed, ref } from "vue";
import type { FigureRow } from "@/api/client";
import { useHandOrder } from "@/ui/useHandOrder";
import { useKind } from "@/state/useKind";
import { addable, type Column, columnOf, columnsFor } from "./columns";
import TextField from "@/ui/TextField.vue";

/** Which columns the ledger shows and in what order; any figure that fits into a cell can be one. */
const props = defineProps<{
  usual: Column[];
  columns: Column[];
  figures: FigureRow[];
  changed: boolean;
}>();
const emit = defineEmits<{ toggle: [key: string]; move: [key: string, by: number]; reset: [] }>();

const kind = useKind();
const MAX_OFFERED = 12;
const wanted = ref("");
const absent = computed(() => {
  const low = wanted.value.trim().toLowerCase();
  const own = columnsFor(props.usual);
  const others = addable(kind, props.figures).map(columnOf);
  const all = [...own, ...others.filter((one) => !own.some((known) => known.key === one.key))];
  return all
    .filter((one) => !props.columns.some((shown) => shown.key === one.key))
    .filter((one) => nameOf(one).toLowerCase().includes(low))
    .slice(0, MAX_OFFERED);
});

/** The first column, the decision's, is not of the list. */
const list = ref<HTMLElement | null>(null);
useHandOrder(list, (from, to) => {
  const moved = props.columns[from + 1];
  if (moved) emit("move", moved.key, to - from);
});

function nameOf(column: Column): string {
  return column.called ?? column.head;
}
</script>

<template>
  <div class="sheet" role="dialog" aria-label="Columns">
    <h3 class="small">Shown, from the left</h3>
    <ul ref="list" class="ordered">
      <li v-for="(column, i) in columns.filter((one) => one.key !== 'decision')" :key="column.key">
        <span>{{ nameOf(column) }}</span>
        <v-btn
          :disabled="i === 0"
          :aria-label="`Move ${nameOf(column)} to the left`"
          @click="$emit('move', column.key, -1)"
        >
          ←
        </v-btn>
        <v-btn
          :disabled="i === columns.length - 2"
          :aria-label="`Move ${nameOf(column)} to the right`"
          @click="$emit('move', column.key, 1)"
        >
          →
        </v-btn>
        <v-btn
          v-if="!column.fixed"
          :aria-label="`Leave out ${nameOf(column)}`"
          @click="$emit('toggle', column.key)"
        >
          Leave out
        </v-btn>
      </li>
    </ul>
    <h3 class="small">Add</h3>
    <TextField v-model="wanted" label="Find a figure to add" placeholder="any figure, by name" />
    <ul>
      <li v-for="column in absent" :key="column.key">
        <span>{{ nameOf(column) }}</span>
        <v-btn :aria-label="`Add ${nameOf(column)}`" @click="$emit('toggle', column.key)">
          Add
        </v-btn>
      </li>
    </ul>
    <v-btn v-if="changed" @click="$emit('reset')">As at first</v-btn>
  </div>
</template>

<style scoped>
.sheet {
  width: 330px;
  max-height: 70vh;
  overflow-y: auto;
  padding: 8px 14px 12px;
}

h3 {
  margin: 8px 0 2px;
}

ul {
  list-style: none;
  margin: 0 0 6px;
  padding: 0;
}

li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
}

.ordered li {
  cursor: grab;
}

li span {
  flex: 1;
}

.v-btn--disabled {
  opacity: 0.35;
  cursor: default;
}
</style>
