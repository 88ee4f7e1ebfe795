<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import type { Mapping } from "@/api/intake";
import { formatDay } from "@/format/values";
import MappedRows from "./MappedRows.vue";
import type { LayoutState } from "./useMappings";
import { DATES, ENCODINGS, NAMED, NUMBERS, numberOf, SEPARATORS } from "./describeMapping";

/** How the files of one layout are read, as sentences whose words can be changed. */
const props = defineProps<{ layout: LayoutState; tables: Schemas["TableRow"][] }>();
const emit = defineEmits<{ change: [part: Partial<Mapping>] }>();

const row = computed(() => props.layout.row);
const mapping = computed(() => props.layout.mapping);
const table = computed(() => props.tables.find((one) => one.name === mapping.value.table));
const columns = computed(() => table.value?.columns ?? []);
const weekly = computed(() => columns.value.some((one) => one.name === "week"));
const dated = computed(() => columns.value.some((one) => one.type === "date"));
const given = computed(() => mapping.value.columns.map((use) => use.to));

const title = computed(() => {
  const [first = "", ...more] = row.value.files;
  return more.length ? `${first} and ${more.length} more like it` : first;
});
const number = computed(() => numberOf(mapping.value));
function setNumber(text: string): void {
  const [, grouping = "", decimal = "."] = /^1(.?)234(.)5$/.exec(text) ?? [];
  emit("change", { grouping, decimal } as Partial<Mapping>);
}

/** Where the figures and their weeks stand: one choice, for the ways exclude each other. */
const place = computed(() => mapping.value.spread || mapping.value.week_in);
const places = computed(() => [
  { value: "", says: "in the row" },
  { value: "name", says: "in the file’s name, for all rows" },
  { value: "above", says: "above the names, for all rows" },
  ...(table.value?.spreads ?? []).map((name) => ({
    value: name,
    says: `at the head of columns of ${name}`,
  })),
]);
function setPlace(value: string): void {
  const whole = value === "name" || value === "above";
  emit("change", {
    week_in: whole ? (value as "name" | "above") : "",
    spread: whole ? "" : value,
    spread_unit: "",
    // What stands at the head of columns, or once for all rows, has no column of its own.
    columns: mapping.value.columns.filter(
      (use) => !value || (use.to !== "week" && use.to !== value),
    ),
  });
}

/** Columns that the table must have and the file has none for: one value for all rows. */
const lacking = computed(() =>
  columns.value.filter(
    (one) =>
      one.needed &&
      !given.value.includes(one.name) &&
      one.name !== mapping.value.spread &&
      !(one.name === "week" && place.value),
  ),
);
function setFixed(name: string, value: string): void {
  const others = Object.entries(mapping.value.fixed).filter(([key]) => key !== name);
  emit("change", { fixed: Object.fromEntries(value ? [...others, [name, value]] : others) });
}
const valueOf = (event: Event): string => (event.target as HTMLInputElement).value;
</script>

<template>
  <section class="layout" :aria-label="title">
    <p class="serif said">
      <b>{{ title }}</b>, {{ ENCODINGS[row.encoding] ?? row.encoding }} with
      {{ SEPARATORS[row.separator] }} between cells,
      <label>
        {{ row.files.length > 1 ? "are" : "is" }}
        <select :value="mapping.table" @change="emit('change', { table: valueOf($event) })">
          <option value="">left out</option>
          <option v-for="one in tables" :key="one.name" :value="one.name">{{ one.name }}</option>
        </select></label
      >.
      <template v-if="table">
        <label
          >The names of its columns stand in line
          <input
            class="line"
            type="number"
            min="0"
            max="400"
            :value="mapping.head"
            @change="emit('change', { head: Number(valueOf($event)) })" /></label
        >.
        <label
          >Numbers are written like
          <select :value="number" @change="setNumber(valueOf($event))">
            <option v-for="one in NUMBERS" :key="one">{{ one }}</option>
          </select></label
        ><template v-if="dated"
          >,
          <label
            >dates as
            <select
              :value="mapping.dates"
              @change="emit('change', { dates: valueOf($event) as Mapping['dates'] })"
            >
              <option v-for="(says, key) in DATES" :key="key" :value="key">{{ says }}</option>
            </select></label
          ></template
        >.
        <template v-if="weekly">
          <label
            >The week stands
            <select :value="place" @change="setPlace(valueOf($event))">
              <option v-for="one in places" :key="one.value" :value="one.value">
                {{ one.says }}
              </option>
            </select></label
          >
          {{ " " }}
          <label
            >and is named by
            <select
              :value="mapping.named"
              @change="emit('change', { named: valueOf($event) as Mapping['named'] })"
            >
              <option v-for="(says, key) in NAMED" :key="key" :value="key">{{ says }}</option>
            </select></label
          >.
        </template>
      </template>
    </p>
    <p v-if="row.kept_at" class="small">
      As you had files like this read on {{ formatDay(row.kept_at.slice(0, 10)) }}.
    </p>
    <ul v-if="row.doubts.length" class="doubts" aria-label="To be looked at">
      <li v-for="one in row.doubts" :key="one">{{ one }}</li>
    </ul>
    <p v-if="row.above.length" class="small above">Above the names: {{ row.above.join(" · ") }}</p>
    <p v-for="one in lacking" :key="one.name">
      <label
        >No column is <b>{{ one.name }}</b> ({{ one.description.replace(/\.$/, "") }}). In every row
        it is
        <input
          class="fixed"
          :value="mapping.fixed[one.name] ?? ''"
          @change="setFixed(one.name, valueOf($event))"
      /></label>
    </p>
    <MappedRows
      v-if="table"
      :row="row"
      :mapping="mapping"
      :table="table"
      :tried="layout.tried"
      @change="emit('change', $event)"
    />
  </section>
</template>

<style scoped>
.layout {
  border-top: 1px solid var(--rule);
  padding-top: 10px;
  margin-top: 8px;
}

.said {
  font-size: 15px;
  line-height: 1.7;
  margin: 0 0 4px;
  max-width: 110ch;
}

.said b {
  overflow-wrap: anywhere;
}

.said select,
.said input {
  font: 14px var(--sans);
}

.line,
.fixed {
  border: 0;
  border-bottom: 1px solid var(--q4);
  background: transparent;
  padding: 2px;
}

.line {
  width: 46px;
}

.doubts {
  margin: 0 0 8px;
  padding: 0 0 0 12px;
  border-left: 2px solid var(--ochre);
  list-style: none;
}

.above {
  overflow-wrap: anywhere;
}
</style>
