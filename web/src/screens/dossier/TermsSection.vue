<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { sayCount, sayShare } from "@/shared/format";
import { useNotice } from "@/shared/useNotice";

type Term = Schemas["TermRow"];

/** What buyers type, how often, and what comes of it; the chosen terms can be copied. */
const props = defineProps<{ terms: Term[] }>();
const { say } = useNotice();

const most = computed(() => Math.max(1, ...props.terms.map((one) => one.searches_52w ?? 0)));
const total = computed(() => props.terms.reduce((sum, one) => sum + (one.searches_52w ?? 0), 0));
const chosen = ref(new Set<string>());

function toggle(term: string): void {
  const next = new Set(chosen.value);
  if (!next.delete(term)) next.add(term);
  chosen.value = next;
}

async function copy(): Promise<void> {
  const wanted = props.terms
    .map((one) => one.term)
    .filter((term) => !chosen.value.size || chosen.value.has(term));
  try {
    await navigator.clipboard.writeText(wanted.join("\n"));
    say(`${wanted.length} ${wanted.length === 1 ? "term" : "terms"} copied, a line each.`);
  } catch {
    say("The browser does not allow copying here; mark the terms in the table instead.");
  }
}
</script>

<template>
  <p class="acts">
    <button class="word-button" @click="copy">
      Copy {{ chosen.size ? `the ${chosen.size} chosen` : "all" }}
    </button>
  </p>
  <table>
    <thead>
      <tr>
        <td />
        <th scope="col">term</th>
        <th scope="col" class="bar">searches a year</th>
        <th scope="col">searches</th>
        <th scope="col">of the niche</th>
        <th scope="col">purchases a search</th>
        <th scope="col">top 3 take</th>
        <th scope="col">breadth</th>
        <th scope="col">brand word</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in terms" :key="one.term">
        <td>
          <input
            type="checkbox"
            :checked="chosen.has(one.term)"
            :aria-label="`Choose ${one.term}`"
            @change="toggle(one.term)"
          />
        </td>
        <th scope="row">{{ one.term }}</th>
        <td class="bar">
          <svg viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
            <rect height="8" :width="((one.searches_52w ?? 0) / most) * 100" />
          </svg>
        </td>
        <td class="number">{{ sayCount(one.searches_52w) }}</td>
        <td class="number">{{ sayShare(total ? (one.searches_52w ?? 0) / total : null) }}</td>
        <td class="number">
          {{ one.purchase_rate === null ? "–" : `${(one.purchase_rate * 100).toFixed(1)}%` }}
        </td>
        <td class="number">{{ sayShare(one.top3_share) }}</td>
        <td class="number">{{ sayCount(one.click_breadth) }}</td>
        <td>{{ one.branded === null ? "–" : one.branded ? "yes" : "no" }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.acts {
  margin: 0 0 6px;
}

table {
  border-collapse: collapse;
  width: 100%;
}

th,
td {
  text-align: left;
  font-weight: 400;
  padding: 2px 14px 2px 0;
  border-bottom: 1px solid var(--rule);
}

thead th {
  font: 11px var(--condensed);
  color: var(--ink3);
}

.number {
  text-align: right;
}

.bar {
  width: 24%;
}

svg {
  display: block;
  width: 100%;
  height: 9px;
}

rect {
  fill: var(--q4);
}
</style>
