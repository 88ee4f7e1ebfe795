<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { FigureRow, Schemas } from "@/api/client";
import { registryQueries } from "@/api/registry";
import { formatDay } from "@/format/values";
import { useKind } from "@/state/useKind";
import { useTyped } from "@/state/useTyped";
import NoteField from "@/screens/parts/NoteField.vue";
import { formatFigure } from "@/format/figure";
import type { Entry } from "./useEntries";
import TextField from "@/ui/TextField.vue";

/** The selected entry: why, a note, tags, and everything that is another than at the decision. */
const props = defineProps<{
  entry: Entry;
  market: string;
  figures: FigureRow[];
  explain: (entry: Entry, reason: string) => Promise<boolean>;
  saveTags: (entry: Entry, tags: string[]) => Promise<boolean>;
}>();

const kind = useKind();
const signals = useQuery(registryQueries.signals());
const note = ref<InstanceType<typeof NoteField> | null>(null);
const { text: reason, leave: leaveReason } = useTyped(
  () => props.entry,
  (entry) => entry.reason,
  (entry, text) => props.explain(entry, text),
);
const { text: tags, leave: leaveTags } = useTyped(
  () => props.entry,
  (entry) => entry.tags.join(", "),
  (entry, text) => props.saveTags(entry, text.split(",").map((one) => one.trim()).filter(Boolean)),
); // prettier-ignore

const VERB: Record<Entry["choice"], string> = {
  keep: "Kept",
  park: "Parked",
  pass: "Passed",
  open: "Open",
};

const nameOf = (key: string): string =>
  signals.data.value?.find((one) => one.key === key)?.name ?? key;

/** Signals that came and went; figures as they were and are. */
function describeChange(change: Schemas["ChangeSince"]): {
  label: string;
  was: string;
  now: string;
} {
  if (change.figure === "signals") {
    const [then, now] = [change.then, change.now].map((one) => (one ?? []) as string[]);
    const only = (list: string[] = [], other: string[] = []): string =>
      list
        .filter((one) => !other.includes(one))
        .map(nameOf)
        .join(", ") || "none";
    return { label: "Signals gone, and new", was: only(then, now), now: only(now, then) };
  }
  const figure = props.figures.find((one) => one.key === change.figure);
  const shown = { type: figure?.type ?? "amount", unit: figure?.unit ?? "" } as const;
  return {
    label: figure?.label ?? change.figure,
    was: formatFigure(shown, change.then),
    now: formatFigure(shown, change.now),
  };
}

const changed = computed(() => props.entry.changes.map(describeChange));

const blur = (event: Event): void => (event.target as HTMLElement).blur();

defineExpose({ focus: () => note.value?.focus() });
</script>

<template>
  <section class="foot" :aria-label="`Selected ${kind.one}`">
    <div class="own">
      <h2 class="serif">{{ entry.name }}</h2>
      <p class="small">
        {{ VERB[entry.choice] }} on {{ formatDay(entry.decided_at.slice(0, 10)) }}
        <template v-if="entry.decided_as_of">
          on figures as of {{ formatDay(entry.decided_as_of) }}</template
        >
        <template v-if="entry.renamed">, then called “{{ entry.renamed }}”</template>
      </p>
      <div class="line">
        <span class="small">why</span>
        <TextField
          v-model="reason"
          :label="`Why ${entry.name}`"
          placeholder="the reason of the decision"
          @blur="leaveReason"
          @keydown.enter="blur"
          @keydown.esc.stop="blur"
        />
      </div>
      <div class="line">
        <span class="small">note</span>
        <NoteField ref="note" :market="market" :niche="entry" />
      </div>
      <div class="line">
        <span class="small">tags</span>
        <TextField
          v-model="tags"
          :label="`Tags of ${entry.name}`"
          placeholder="words, with commas between"
          @blur="leaveTags"
          @keydown.enter="blur"
          @keydown.esc.stop="blur"
        />
      </div>
    </div>
    <div class="changes">
      <h3 class="small">
        {{
          entry.part_of
            ? `It is part of “${entry.part_of.name}” now. What was known at the decision stays, and comes back if that is undone.`
            : !entry.present
              ? `The market’s latest figures do not know this ${kind.one}; what was known at the decision stays.`
              : changed.length
                ? "What has changed since"
                : entry.decided_as_of === entry.as_of
                  ? "No newer figures have come in since the decision."
                  : "Nothing has changed since the decision beyond a hundredth."
        }}
      </h3>
      <v-table v-if="changed.length">
        <thead>
          <tr>
            <th v-explain="'figure'" scope="col">figure</th>
            <th v-explain="'then'" scope="col">then</th>
            <th v-explain="'now'" scope="col">now</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in changed" :key="one.label">
            <th scope="row">{{ one.label }}</th>
            <td>{{ one.was }}</td>
            <td>{{ one.now }}</td>
          </tr>
        </tbody>
      </v-table>
    </div>
  </section>
</template>

<style scoped>
.foot {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 30px;
  height: 236px;
  box-sizing: border-box;
  padding: 10px var(--gutter) 8px;
  background: var(--page);
  border-top: 1px solid var(--ink);
}

h2 {
  font-size: 17px;
  margin: 0;
}

h3,
p {
  margin: 0 0 6px;
}

.own,
.changes {
  overflow-y: auto;
  scrollbar-width: thin;
}

.line {
  display: grid;
  grid-template-columns: 44px minmax(0, 1fr);
  align-items: baseline;
  margin-bottom: 6px;
}

.v-table :deep(table) {
  width: 100%;
  border-collapse: collapse;
}

th,
td {
  text-align: left;
  font-weight: 400;
  padding: 2px 10px 2px 0;
  border-bottom: 1px solid var(--rule);
}

thead th {
  font: 11px var(--condensed);
  color: var(--ink3);
}

@media (max-width: 820px) {
  .foot {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
