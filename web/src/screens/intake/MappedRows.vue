<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import type { Mapping } from "@/api/intake";
import SelectField from "@/ui/SelectField.vue";

/** The first rows of a file: above them which column is which, below them what comes of it. */
const props = defineProps<{
  row: Schemas["LayoutRow"];
  mapping: Mapping;
  table: Schemas["TableRow"];
  tried: Schemas["Tried"] | null;
  /** Whether what is lacking is asked for already. */
  asked: boolean;
}>();
const emit = defineEmits<{ change: [part: Partial<Mapping>] }>();

const MANY = 40; // Columns that are shown.
const DATES = 4; // Of those with a date as their name.
const ROWS = 6;

const uses = computed(() => new Map(props.mapping.columns.map((use) => [use.column, use])));
const shown = computed(() => {
  const dated = new Set(props.row.dated);
  let dates = 0;
  const places: { name: string; at: number; dated: boolean }[] = [];
  props.row.names.forEach((name, at) => {
    const one = { name, at, dated: dated.has(name) && !uses.value.has(name) };
    dates += Number(one.dated);
    if (places.length < MANY && (!one.dated || dates <= DATES)) places.push(one);
  });
  return places;
});
const more = computed(() => props.row.names.length - shown.value.length);
const rows = computed(() => props.row.rows.slice(0, ROWS));

const asItems = (names: string[]) => names.map((name) => ({ title: name, value: name }));
const unitsOf = (to: string): string[] =>
  props.table.columns.find((one) => one.name === to)?.units ?? [];
/** A column of any name can be an attribute of listings. */
const attribute = (name: string): string =>
  `attr_${name.trim().replace(/\W+/g, "_").toLowerCase()}`;
const choices = (name: string): string[] => {
  const all = props.table.columns.map((one) => one.name);
  return props.table.name === "listings" ? [...all, attribute(name)] : all;
};

function setColumn(column: string, to: string): void {
  // What another column was is this one now.
  const others = props.mapping.columns.filter((use) => use.column !== column && use.to !== to);
  const columns = to ? [...others, { column, to, unit: "" }] : others;
  const order = new Map(props.row.names.map((name, at) => [name, at]));
  columns.sort((a, b) => (order.get(a.column) ?? 0) - (order.get(b.column) ?? 0));
  const fixed = Object.entries(props.mapping.fixed).filter(([key]) => key !== to);
  emit("change", { columns, fixed: Object.fromEntries(fixed) });
}
function setUnit(column: string, unit: string): void {
  emit("change", {
    columns: props.mapping.columns.map((use) => (use.column === column ? { ...use, unit } : use)),
  });
}
</script>

<template>
  <div class="both" :class="{ spread: mapping.spread }">
    <div class="scroller" tabindex="0" role="region" aria-label="First rows">
      <v-table>
        <caption>
          First rows of
          {{
            row.files[0]
          }}
        </caption>
        <thead>
          <tr>
            <th v-for="one in shown" :key="one.at" scope="col" class="own">{{ one.name }}</th>
            <th v-if="more" scope="col">and {{ more }} more</th>
          </tr>
          <tr>
            <td
              v-for="one in shown"
              :key="one.at"
              :class="{ left: !uses.has(one.name) && !one.dated }"
            >
              <template v-if="one.dated">
                {{ mapping.spread }}
                <SelectField
                  v-if="unitsOf(mapping.spread).length"
                  :label="`What ${mapping.spread} is given in`"
                  :model-value="mapping.spread_unit || unitsOf(mapping.spread)[0] || ''"
                  :items="asItems(unitsOf(mapping.spread))"
                  @update:model-value="emit('change', { spread_unit: $event })"
                />
              </template>
              <template v-else>
                <SelectField
                  :label="`What ${one.name} is`"
                  :model-value="uses.get(one.name)?.to ?? ''"
                  :items="[{ title: 'left out', value: '' }, ...asItems(choices(one.name))]"
                  @update:model-value="setColumn(one.name, $event)"
                />
                <span v-if="unitsOf(uses.get(one.name)?.to ?? '').length" class="unit"
                  >in
                  <SelectField
                    :label="`What ${one.name} is given in`"
                    :model-value="
                      uses.get(one.name)?.unit || unitsOf(uses.get(one.name)?.to ?? '')[0] || ''
                    "
                    :items="asItems(unitsOf(uses.get(one.name)?.to ?? ''))"
                    @update:model-value="setUnit(one.name, $event)"
                /></span>
              </template>
            </td>
            <td v-if="more" />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(cells, i) in rows" :key="i">
            <td
              v-for="one in shown"
              :key="one.at"
              :class="{ left: !uses.has(one.name) && !one.dated }"
            >
              {{ cells[one.at] }}
            </td>
            <td v-if="more" />
          </tr>
        </tbody>
      </v-table>
    </div>
    <p v-if="tried?.lacks && !asked" class="failure" role="alert">{{ tried.lacks }}</p>
    <div
      v-else-if="tried && !tried.lacks"
      class="scroller"
      tabindex="0"
      role="region"
      aria-label="Read as"
    >
      <ul v-if="tried.problems.length" class="failure" role="alert" aria-label="Problems">
        <li v-for="(one, i) in tried.problems" :key="i">
          Line {{ one.line ?? "–" }}, {{ one.column ?? "–" }}: {{ one.message }} {{ one.remedy }}
        </li>
      </ul>
      <v-table v-if="tried.made.length" class="made">
        <caption>
          Preview as
          {{
            table.name
          }}
        </caption>
        <thead>
          <tr>
            <th v-for="name in tried.columns" :key="name" scope="col">{{ name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(cells, i) in tried.made.slice(0, ROWS)" :key="i">
            <td v-for="(cell, k) in cells" :key="k">{{ cell ?? "–" }}</td>
          </tr>
        </tbody>
      </v-table>
    </div>
  </div>
</template>

<style scoped>
.both {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 4px 40px;
}

.both.spread {
  align-items: flex-start;
}

.both > * {
  max-width: 100%;
}

.scroller {
  overflow-x: auto;
  margin-bottom: 8px;
}

td,
th {
  white-space: nowrap;
  max-width: 240px;
  overflow: hidden;
  text-overflow: ellipsis;
}

.v-table thead .own {
  font: 600 13px var(--sans);
  color: var(--ink);
}

.left {
  color: var(--ink3);
}

.unit {
  display: block;
  font: 11px var(--condensed);
}

.failure {
  border-left: 2px solid var(--rust);
  padding-left: 8px;
  margin: 0 0 8px;
  list-style: none;
}
</style>
