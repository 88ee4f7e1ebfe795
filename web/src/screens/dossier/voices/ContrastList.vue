<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { formatShare } from "@/format/values";

/** Phrases that are said more here than elsewhere, by those who rate low, and lately; told from chance. */
const props = defineProps<{ contrasts: Schemas["VoiceContrasts"] }>();

const HEADS = [
  { key: "category", head: "Said here more than in the rest of the category" },
  { key: "market", head: "Said here more than elsewhere in the market" },
  { key: "low", head: "Said more by those who rate low than by those who rate high" },
  { key: "now", head: "Said more in the last 52 weeks than in the 52 before" },
] as const;
const lists = computed(() =>
  HEADS.map(({ key, head }) => ({ key, head, phrases: props.contrasts[key] ?? [] })).filter(
    ({ phrases }) => phrases.length,
  ),
);
</script>

<template>
  <div v-if="lists.length" class="lists">
    <v-table v-for="list in lists" :key="list.key">
      <caption class="small">
        {{
          list.head
        }}
      </caption>
      <thead>
        <tr>
          <th v-explain="'voice-phrase'" scope="col">phrase</th>
          <th v-explain="'voice-phrase'" scope="col" class="number">share of texts</th>
          <th v-explain="'voice-phrase'" scope="col" class="number">of the others</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in list.phrases" :key="one.words">
          <th scope="row">{{ one.words }}</th>
          <td class="number" :data-tip="`${one.own} of ${one.of} texts`">
            {{ formatShare(one.own / one.of) }}
          </td>
          <td class="number" :data-tip="`${one.other} of ${one.other_of} texts`">
            {{ formatShare(one.other / one.other_of) }}
          </td>
        </tr>
      </tbody>
    </v-table>
  </div>
</template>

<style scoped>
.lists {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 240px), 1fr));
  align-items: start;
  gap: 10px 34px;
  margin-bottom: 14px;
}

caption {
  text-align: left;
}

th[scope="row"] {
  text-align: left;
  font-weight: 400;
}
</style>
