<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { FigureRow, SubjectPreview } from "@/api/client";
import type { Category } from "@/api/previews";
import SignalMark from "@/marks/SignalMark.vue";
import { formatDay, UNKNOWN } from "@/format/values";
import { ingredients } from "@/format/ingredients";
import { formatFigure, shownUnit } from "@/format/figure";
import TextField from "@/ui/TextField.vue";

/** A row of any kind, as far as its working is concerned. */
type Worked = Pick<SubjectPreview, "name" | "period" | "signals"> & {
  figures: SubjectPreview["figures"] | Category["figures"];
};
const open = defineModel<boolean>({ required: true });
const props = defineProps<{
  subject: Worked | undefined;
  figures: FigureRow[];
  /** Key of the figure that was asked about; empty for all. */
  figure: string;
}>();

const wanted = ref("");
watch(
  open,
  (now) => {
    if (now) wanted.value = props.figures.find((one) => one.key === props.figure)?.label ?? "";
  },
  // It may be made at the moment it is first opened.
  { immediate: true },
);

/** A figure's value as its type is shown; signals by their names. */
function format(figure: FigureRow): string {
  if (figure.type === "signals")
    return (props.subject?.signals ?? []).map((one) => one.name).join(", ") || "none";
  return formatFigure(
    figure,
    (props.subject?.figures as Record<string, unknown> | undefined)?.[figure.column],
  );
}

/** The numbers that stand in a formula; none where nothing is known of it. */
function parts(figure: FigureRow): FigureRow[] {
  return ingredients(figure, props.figures).filter((one) => format(one) !== UNKNOWN);
}

/** Figures by what they are of, as their keys begin; those of the demand have none. */
const HEADS: Record<string, string> = {
  growth_4w: "Growth", growth_13w: "Growth", growth_26w: "Growth", growth_52w: "Growth",
  growth_yoy: "Growth", sales: "Sales", competition_parts: "Who holds the clicks",
  barriers: "What a newcomer competes with", entry: "Newcomers", pressure: "Pressure on price",
  target: "Target income", price_answer: "Answer to price", purchase_lag: "Purchases after searches",
  forecast_26w: "Forecast", forecast_52w: "Forecast", contributions: "What makes its headroom",
  usual: "The market's usual", counts: "What lies in it", lorenz: "How its sales are spread",
  newcomers: "Newcomers", established: "What is old in it", sold: "What is sold",
  listing: "Its own figures", sleep: "Whether it sleeps",
  moved: "What moved of late", own: "Your own part", voices: "What buyers write",
  openness_parts: "What makes its openness", settledness_parts: "What makes its settledness",
}; // prettier-ignore

const groups = computed(() => {
  const low = wanted.value.trim().toLowerCase();
  const made = new Map<string, { figure: FigureRow; text: string; sentence: boolean }[]>();
  for (const figure of props.figures) {
    const text = `${figure.label} ${figure.key} ${figure.formula}`.toLowerCase();
    if (low && !text.includes(low)) continue;
    const [start = ""] = figure.key.split(".");
    const head = figure.key.includes(".")
      ? (HEADS[start] ?? start.replaceAll("_", " "))
      : "Reading";
    const sentence = figure.type === "sentence" || figure.type === "signals";
    const rows = made.get(head) ?? [];
    rows.push({ figure, text: format(figure), sentence });
    made.set(head, rows);
  }
  return [...made].map(([head, rows]) => ({ head, rows }));
});
</script>

<template>
  <v-dialog v-model="open" max-width="860" scrollable aria-labelledby="working-title">
    <div class="sheet">
      <header>
        <h2 id="working-title" class="serif">The working of {{ subject?.name ?? "…" }}</h2>
        <p class="small">
          From {{ subject?.figures.periods ?? 0 }} {{ subject?.period }}s up to
          {{ subject ? formatDay(String(subject.figures.as_of)) : "…" }}. A dash is unknown.
        </p>
        <TextField
          v-model="wanted"
          class="find"
          label="Find a figure"
          placeholder="find a figure"
        />
        <v-btn @click="open = false">Close</v-btn>
      </header>
      <div class="body" tabindex="0" role="region" aria-labelledby="working-title">
        <section v-if="subject?.signals.length && !wanted" aria-labelledby="signals-title">
          <h3 id="signals-title">Signals</h3>
          <ul>
            <li v-for="signal in subject.signals" :key="signal.key">
              <p>
                <SignalMark :tone="signal.tone" /><b>{{ signal.name }}.</b> {{ signal.evidence }}
                {{ signal.jointly.join(" ") }}
              </p>
              <p class="small">Look next: {{ signal.look }}</p>
            </li>
          </ul>
        </section>
        <v-table>
          <thead>
            <tr>
              <th v-explain="'figure'" scope="col">figure</th>
              <th v-explain="'here'" scope="col" class="value">here</th>
              <th v-explain="'how'" scope="col">how it is worked out</th>
              <th v-explain="'source'" scope="col">source</th>
            </tr>
          </thead>
          <tbody v-for="{ head, rows } in groups" :key="head">
            <tr>
              <th class="group" scope="rowgroup" colspan="4">{{ head }}</th>
            </tr>
            <tr v-for="{ figure: one, text, sentence } in rows" :key="one.key">
              <th scope="row">
                {{ one.label }}<br /><span class="small">{{ shownUnit(one.unit, one.label) }}</span>
              </th>
              <td class="value" :class="{ sentence }">{{ text }}</td>
              <td>
                {{ one.formula }}
                <span v-for="part in parts(one)" :key="part.key" class="part">
                  {{ part.label.toLowerCase() }} <b>{{ format(part) }}</b>
                </span>
                <i v-if="text === UNKNOWN && one.needs !== 'term_weeks'"> needs {{ one.needs }} </i>
              </td>
              <td class="small">{{ one.source }}</td>
            </tr>
          </tbody>
        </v-table>
        <p v-if="!groups.length">No figure is called that.</p>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  display: flex;
  flex-direction: column;
  max-height: 84vh;
}

header {
  display: flex;
  align-items: baseline;
  gap: 16px;
  padding: 16px 20px 10px;
  border-bottom: 1px solid var(--rule);
}

.find {
  flex: none;
  width: 170px;
  margin-left: auto;
}

.part {
  display: inline-block;
  margin-right: 12px;
  font: 12px var(--condensed);
  color: var(--ink2);
}

.group {
  font-weight: 600;
  padding-top: 12px;
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

.v-table :deep(table) {
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

/* Four columns have no room here: what a figure is and says stands above how it is worked out. */
@media (max-width: 820px) {
  header {
    flex-wrap: wrap;
  }

  thead {
    display: none;
  }

  tbody tr {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
  }

  tbody :is(th, td) {
    padding: 1px 0;
    border: 0;
  }

  tbody td:nth-child(n + 3),
  .group {
    grid-column: 1 / -1;
  }

  .value {
    white-space: normal;
  }

  .sentence {
    max-width: none;
  }
}
</style>
