<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { faultQueries } from "@/api/faults";
import ScreenGate from "@/ui/ScreenGate.vue";
import { formatMoment } from "@/format/values";
import { useTabTitle } from "@/state/useTabTitle";
import { useNotice } from "@/state/useNotice";

type Fault = Schemas["FaultRow"];

const PROGRAMS: Record<string, string> = {
  server: "while a page was answered",
  worker: "in an import or other long work",
  command: "on the command line",
};
const faults = useQuery(faultQueries.all());
const failure = computed(() => faults.error.value as ApiError | null);
const { notify } = useNotice();
useTabTitle("Faults");

/** What a report needs: when, what, where in the program, and which versions. */
async function copy(fault: Fault): Promise<void> {
  const lines = [fault.at, fault.id, fault.program, faults.data.value?.about, "", fault.text];
  await navigator.clipboard.writeText([...lines, fault.trace].join("\n"));
  notify("Copied. Read it before you send it: it may hold names of your niches and files.");
}
</script>

<template>
  <ScreenGate :pending="!faults.data.value" :failure="failure" @retry="faults.refetch()">
    <section v-if="faults.data.value" class="faults">
      <h1 class="serif">Faults</h1>
      <p>
        What went wrong in the program itself, the latest first.
        {{
          faults.data.value.faults.length
            ? "Nothing was left half done by any of them."
            : "None is noted."
        }}
      </p>
      <p class="small">Noted in {{ faults.data.value.file }}. {{ faults.data.value.about }}.</p>
      <article v-for="(fault, i) in faults.data.value.faults" :key="i" :aria-label="fault.id">
        <h2 class="serif">
          {{ formatMoment(fault.at) }},
          {{ PROGRAMS[fault.program] }}
        </h2>
        <p class="text">{{ fault.text }}</p>
        <p>
          <span class="small">Under {{ fault.id }}.</span>
          <v-btn :aria-label="`Copy for a report: ${fault.id}`" @click="copy(fault)">
            Copy for a report
          </v-btn>
        </p>
        <details v-if="fault.trace">
          <summary>Where in the program</summary>
          <pre tabindex="0">{{ fault.trace }}</pre>
        </details>
      </article>
    </section>
  </ScreenGate>
</template>

<style scoped>
.faults {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 20px var(--gutter) 40px;
}

h1 {
  font-size: 24px;
  margin: 0 0 8px;
}

h2 {
  font-size: 16px;
  font-weight: 600;
  margin: 0;
}

article:first-of-type {
  margin-top: 14px;
}

article {
  border-top: 1px solid var(--rule);
  padding: 10px 0;
}

p {
  margin: 4px 0;
  max-width: 90ch;
}

.text {
  overflow-wrap: anywhere;
}

.v-btn {
  margin-left: 12px;
}

summary {
  cursor: pointer;
  color: var(--ink2);
}

pre {
  background: var(--page);
  border: 1px solid var(--rule);
  padding: 10px 12px;
  overflow-x: auto;
  font-size: 12px;
}
</style>
