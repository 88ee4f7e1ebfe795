<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import type { Mapping } from "@/api/intake";
import { formatDay } from "@/format/values";
import MappedRows from "./MappedRows.vue";
import type { LayoutState } from "./useMappings";
import { DATES, ENCODINGS, NAMED, NUMBERS, numberOf, SEPARATORS } from "./describeMapping";
import SelectField from "@/ui/SelectField.vue";
import TextField from "@/ui/TextField.vue";

const NUMBER_ITEMS = NUMBERS.map((text) => ({ title: text, value: text }));
const itemsOf = <Key extends string>(named: Record<Key, string>) =>
  (Object.keys(named) as Key[]).map((key) => ({ title: named[key], value: key }));
const DATE_ITEMS = itemsOf(DATES);
const NAMED_ITEMS = itemsOf(NAMED);

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
  { value: "", title: "in the row" },
  { value: "name", title: "in the file’s name, for all rows" },
  { value: "above", title: "above the names, for all rows" },
  ...(table.value?.spreads ?? []).map((name) => ({
    value: name,
    title: `at the head of columns of ${name}`,
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
const tableItems = computed(() => [
  { title: "left out", value: "" },
  ...props.tables.map((one) => ({ title: one.name, value: one.name })),
]);
const valueOf = (event: Event): string => (event.target as HTMLInputElement).value;
</script>

<template>
  <section class="layout" :aria-label="title">
    <div class="serif reading">
      <b>{{ title }}</b>, {{ ENCODINGS[row.encoding] ?? row.encoding }} with
      {{ SEPARATORS[row.separator] }} between cells,
      <span>
        {{ row.files.length > 1 ? "are" : "is" }}
        <SelectField
          label="What they are read as"
          :model-value="mapping.table"
          :items="tableItems"
          @update:model-value="emit('change', { table: $event })" /></span
      >.
      <template v-if="table">
        <span
          >The names of its columns stand in line
          <TextField
            class="line"
            type="number"
            min="0"
            max="400"
            label="The names of its columns stand in line"
            :model-value="String(mapping.head)"
            @change="emit('change', { head: Number(valueOf($event)) })" /></span
        >.
        <span
          >Numbers are written like
          <SelectField
            label="Numbers are written like"
            :model-value="number"
            :items="NUMBER_ITEMS"
            @update:model-value="setNumber" /></span
        ><template v-if="dated"
          >,
          <span
            >dates as
            <SelectField
              label="dates as"
              :model-value="mapping.dates"
              :items="DATE_ITEMS"
              @update:model-value="emit('change', { dates: $event })" /></span></template
        >.
        <template v-if="weekly">
          <span
            >The week stands
            <SelectField
              label="The week stands"
              :model-value="place"
              :items="places"
              @update:model-value="setPlace"
          /></span>
          {{ " " }}
          <span
            >and is named by
            <SelectField
              label="and is named by"
              :model-value="mapping.named"
              :items="NAMED_ITEMS"
              @update:model-value="emit('change', { named: $event })" /></span
          >.
        </template>
      </template>
    </div>
    <p v-if="row.kept_at" class="small">
      As you had files like this read on {{ formatDay(row.kept_at.slice(0, 10)) }}.
    </p>
    <ul v-if="row.doubts.length" class="doubts" aria-label="To be looked at">
      <li v-for="one in row.doubts" :key="one">{{ one }}</li>
    </ul>
    <p v-if="row.above.length" class="small above">Above the names: {{ row.above.join(" · ") }}</p>
    <p v-for="one in lacking" :key="one.name" role="alert">
      <span
        >No column is <b>{{ one.name }}</b> ({{ one.description.replace(/\.$/, "") }}). In every row
        it is
        <TextField
          class="fixed"
          :label="`${one.name} in every row`"
          :model-value="mapping.fixed[one.name] ?? ''"
          @change="setFixed(one.name, valueOf($event))"
      /></span>
    </p>
    <MappedRows
      v-if="table"
      :row="row"
      :mapping="mapping"
      :table="table"
      :tried="layout.tried"
      :asked="lacking.length > 0"
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

.reading {
  font-size: 15px;
  line-height: 1.7;
  margin: 0 0 4px;
  max-width: 110ch;
}

.reading b {
  overflow-wrap: anywhere;
}

.reading .v-input {
  font: 14px var(--sans);
}

.line,
.fixed {
  display: inline-grid;
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
