<script setup lang="ts">
import { computed } from "vue";
import type { FigureRow, NichePreview } from "@/api/client";
import SignalMark from "@/marks/SignalMark.vue";
import { sayChange, sayCount, sayDay, UNKNOWN } from "@/shared/format";

const open = defineModel<boolean>({ required: true });
const props = defineProps<{ niche: NichePreview | undefined; figures: FigureRow[] }>();

type Shift = { from: string; size: number };

function sayList(kind: FigureRow["kind"], values: unknown[]): string {
  if (!values.length) return "none";
  if (kind === "shifts") {
    return (values as Shift[]).map((s) => `${sayChange(s.size)} from ${sayDay(s.from)}`).join(", ");
  }
  if (kind === "signals") return (props.niche?.signals ?? []).map((s) => s.name).join(", ");
  const numbers = values as number[];
  if (kind === "weeks") return `${numbers[0]} to ${numbers.at(-1)}`;
  return `${Math.min(...numbers).toFixed(2)} to ${Math.max(...numbers).toFixed(2)}`;
}

/** A figure's value as its kind is shown. */
function say(figure: FigureRow): string {
  const value = props.niche?.figures[figure.column as keyof NichePreview["figures"]] as unknown;
  if (value === null || value === undefined) return UNKNOWN;
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) return sayList(figure.kind, value);
  if (typeof value === "string") return value;
  const number = value as number;
  if (figure.kind === "change") return sayChange(number);
  if (figure.kind === "share") return `${(number * 100).toFixed(number < 0.1 ? 1 : 0)}%`;
  if (figure.kind === "ratio" || figure.kind === "signed") {
    return number.toFixed(3).replace("-", "−");
  }
  return sayCount(number);
}

const rows = computed(() =>
  props.figures.map((figure) => ({
    figure,
    said: say(figure),
    sentence: figure.kind === "sentence" || figure.kind === "signals",
  })),
);
</script>

<template>
  <v-dialog v-model="open" max-width="860" scrollable aria-labelledby="working-title">
    <div class="sheet">
      <header>
        <h2 id="working-title" class="serif">The working of {{ niche?.name }}</h2>
        <p class="small">
          From {{ niche?.figures.periods ?? 0 }} {{ niche?.period }}s up to
          {{ niche?.figures.as_of }}. A dash is unknown.
        </p>
        <button class="word-button" @click="open = false">Close</button>
      </header>
      <div class="body" tabindex="0" role="region" aria-labelledby="working-title">
        <section v-if="niche?.signals.length" aria-labelledby="signals-title">
          <h3 id="signals-title">Signals</h3>
          <ul>
            <li v-for="signal in niche.signals" :key="signal.key">
              <p>
                <SignalMark :tone="signal.tone" /><b>{{ signal.name }}.</b> {{ signal.says }}
                {{ signal.jointly.join(" ") }}
              </p>
              <p class="small">Look next: {{ signal.look }}</p>
            </li>
          </ul>
        </section>
        <table>
          <thead>
            <tr>
              <th scope="col">figure</th>
              <th scope="col" class="value">here</th>
              <th scope="col">how it is worked out</th>
              <th scope="col">source</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="{ figure, said, sentence } in rows" :key="figure.key">
              <th scope="row">
                {{ figure.label }}<br /><span class="small">{{ figure.unit }}</span>
              </th>
              <td class="value" :class="{ sentence }">{{ said }}</td>
              <td>
                {{ figure.formula }}
                <i v-if="said === UNKNOWN && figure.needs !== 'term_weeks'">
                  needs {{ figure.needs }}
                </i>
              </td>
              <td class="small">{{ figure.source }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  display: flex;
  flex-direction: column;
  max-height: 84vh;
  background: var(--page);
  border: 1px solid var(--rule);
  border-radius: 2px;
}

header {
  display: flex;
  align-items: baseline;
  gap: 16px;
  padding: 16px 20px 10px;
  border-bottom: 1px solid var(--rule);
}

header .word-button {
  margin-left: auto;
}

h2 {
  font-size: 18px;
  margin: 0;
}

p {
  margin: 0;
}

.body {
  overflow: auto;
  padding: 0 20px 16px;
}

h3 {
  margin: 12px 0 4px;
  font: 600 12px var(--sans);
}

ul {
  margin: 0 0 14px;
  padding: 0;
  list-style: none;
}

li {
  padding: 5px 0;
  border-top: 1px solid var(--rule);
}

table {
  border-collapse: collapse;
  width: 100%;
}

thead th {
  position: sticky;
  top: 0;
  background: var(--page);
  font: 11px var(--condensed);
  color: var(--ink3);
  text-align: left;
}

th,
td {
  font-weight: 400;
  text-align: left;
  vertical-align: top;
  padding: 5px 14px 5px 0;
  border-bottom: 1px solid var(--rule);
}

.value {
  text-align: right;
  white-space: nowrap;
  font-weight: 600;
}

.sentence {
  max-width: 220px;
  white-space: normal;
  font-weight: 400;
}
</style>
