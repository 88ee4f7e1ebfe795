<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { formatCount } from "@/format/values";
import { useTakeFocus } from "@/ui/useTakeFocus";
import CountTable from "./CountTable.vue";

/** A piece of long work: how far it is, or what came of it and what can be done now. */
const props = defineProps<{ job: Schemas["JobRow"] }>();
defineEmits<{ stop: []; import: []; goOn: []; ask: [] }>();

const DOING = {
  check: "Checking",
  import: "Importing",
  undo: "Undoing the import of",
  pull: "Pulling from",
  analyse: "Analysing",
  propose: "Grouping",
  replay: "Replaying the past of",
} as const;
const DONE = {
  check: "Checked",
  import: "Imported",
  undo: "Undone",
  pull: "Pulled",
  analyse: "Analysed",
  propose: "Grouped",
  replay: "Replayed the past of",
} as const;
const ENDED = {
  refused: "Refused",
  stopped: "Stopped",
  "cut off": "Cut off",
  failed: "Failed",
} as const;

const heading = ref<HTMLElement | null>(null);
useTakeFocus(heading, () => [props.job.id, props.job.state]);

const atWork = computed(() => ["waiting", "running"].includes(props.job.state));
const head = computed(() => {
  const { state, kind, name } = props.job;
  if (atWork.value) return `${DOING[kind]} ${name}`;
  return `${state === "done" ? DONE[kind] : ENDED[state as keyof typeof ENDED]}: ${name}`;
});
const changes = computed(() => props.job.counts.some((one) => one.new || one.changed));
const read = computed(() => props.job.counts.some((one) => one.new + one.changed + one.unchanged));
const checked = computed(() => props.job.kind === "check" && props.job.state === "done");
const sentences = computed(() => {
  if (!checked.value) return props.job.messages;
  return changes.value
    ? ["All rows are valid. Nothing was changed yet; this is what an import would do."]
    : [
        read.value
          ? "All rows are valid and already imported."
          : "Nothing was read: every file was skipped.",
      ];
});
const onward = computed(
  () =>
    ["stopped", "cut off", "failed"].includes(props.job.state) &&
    (props.job.incoming !== "" ||
      ["undo", "pull", "analyse", "propose", "replay"].includes(props.job.kind)),
);

/** How much is left, in words that do not pretend to be exact. */
const left = computed(() => {
  const seconds = props.job.seconds_left;
  if (seconds == null) return "";
  if (seconds < 10) return "a few seconds left";
  if (seconds < 90) return `about ${Math.round(seconds / 10) * 10} seconds left`;
  return `about ${Math.round(seconds / 60)} minutes left`;
});
/** How much is done of how much, and how fast. */
const pace = computed(() => {
  const { done, whole, unit, rate } = props.job;
  if (!whole) return "";
  const format = (many: number): string =>
    unit === "bytes"
      ? `${(many / 1e6).toFixed(many < 1e7 ? 1 : 0)} MB`
      : `${formatCount(many)} ${unit}`;
  const fast = rate == null || rate < 1 ? "" : `, ${format(Math.round(rate))} a second`;
  return `${format(done)} of ${format(whole)}${fast}`;
});
const percent = computed(() =>
  props.job.whole ? Math.min(100, Math.floor((props.job.done / props.job.whole) * 100)) : null,
);
</script>

<template>
  <section class="work" :aria-label="head">
    <h2 ref="heading" tabindex="-1" class="serif">{{ head }}</h2>
    <template v-if="atWork">
      <p role="status">
        {{ job.stop_asked ? "Stopping …" : job.step || "Waiting for its turn …" }}
      </p>
      <v-progress-linear
        class="progress"
        :model-value="percent ?? 0"
        :indeterminate="percent === null"
        :aria-label="job.step || 'Waiting'"
      />
      <p class="small">
        <template v-if="percent !== null">{{ percent }}%: {{ pace }}; </template>{{ left }}
        <v-btn :disabled="job.stop_asked" @click="$emit('stop')">Stop</v-btn>
      </p>
      <p class="small">You can leave this page or close the browser; the work goes on.</p>
    </template>
    <template v-else>
      <p v-for="sentence in sentences" :key="sentence" class="message">{{ sentence }}</p>
      <p v-if="checked && changes">
        <v-btn variant="flat" @click="$emit('import')">Import it</v-btn>
      </p>
      <p v-if="onward">
        <v-btn variant="flat" @click="$emit('goOn')">Resume</v-btn>
      </p>
      <template v-if="job.problem_count">
        <p>
          {{ formatCount(job.problem_count) }}
          {{ job.problem_count === 1 ? "problem." : "problems." }}
          <v-btn :href="`/api/intake/jobs/${job.id}/problems/`">Download as CSV</v-btn>
          <v-btn v-if="job.incoming" @click="$emit('ask')"> How the files are read </v-btn>
        </p>
        <div class="scroller" tabindex="0" role="region" aria-label="Problems">
          <v-table>
            <thead>
              <tr>
                <th v-explain="'problem-place'" scope="col">file</th>
                <th v-explain="'problem-place'" scope="col" class="number">line</th>
                <th v-explain="'problem-place'" scope="col">column</th>
                <th v-explain="'problem'" scope="col">what is wrong and what to do</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(one, i) in job.problems" :key="i">
                <td>{{ one.file }}</td>
                <td class="number">{{ one.line ?? "–" }}</td>
                <td>{{ one.column ?? "–" }}</td>
                <td class="wide">{{ one.message }} {{ one.remedy }}</td>
              </tr>
            </tbody>
          </v-table>
          <p v-if="job.problem_count > job.problems.length" class="small">
            The first {{ job.problems.length }} are shown; the CSV has more.
          </p>
        </div>
      </template>
      <div v-else-if="job.counts.length" class="beside">
        <CountTable
          :counts="job.counts"
          :caption="checked ? 'What an import would do' : 'What the import did'"
        />
        <ul v-if="job.notes.length" class="small notes" aria-label="Notes">
          <li v-for="note in job.notes" :key="note">{{ note }}</li>
        </ul>
      </div>
    </template>
  </section>
</template>

<style scoped>
h2 {
  outline: none;
  font-size: 18px;
  margin: 0 0 4px;
  overflow-wrap: anywhere;
}

.v-btn + .v-btn {
  margin-left: 14px;
}

p {
  margin: 0 0 6px;
}

.message {
  max-width: 76ch;
}

.progress {
  max-width: 420px;
}

.scroller {
  max-height: 300px;
  overflow-y: auto;
}

.wide {
  max-width: 64ch;
}

.notes {
  margin: 0;
  padding-left: 16px;
  line-height: 1.5;
}
</style>
