<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { formatCount, formatShare } from "@/format/values";
import type { ThemesState } from "./useThemes";

/** What notes on returns say was not as promised, beside what the pages promise. */
defineProps<{ promises: Schemas["BrokenPromise"][]; notes: number; state: ThemesState }>();

const NAMES: Record<Schemas["BrokenPromise"]["promise"], string> = {
  size: "Another size",
  colour: "Another colour",
  material: "Another material",
  parts: "Parts missing",
  picture: "Not as shown",
};
</script>

<template>
  <v-table class="wide-table">
    <caption class="small">
      Returns against what the page promises, of
      {{
        formatCount(notes)
      }}
      notes on returns
    </caption>
    <thead>
      <tr>
        <th v-explain="'voice-promise'" scope="col">what was not as promised</th>
        <th v-explain="'voice-returns'" scope="col" class="number">notes</th>
        <th v-explain="'voice-returns'" scope="col" class="number">share</th>
        <th v-explain="'interval'" scope="col">its 90% interval</th>
        <th v-explain="'voice-promise'" scope="col">in their words</th>
        <th v-explain="'voice-promised'" scope="col">what pages of these listings promise</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in promises" :key="one.promise">
        <th scope="row">{{ NAMES[one.promise] }}</th>
        <td class="number">{{ formatCount(one.notes) }}</td>
        <td class="number">{{ formatShare(one.share) }}</td>
        <td>{{ formatShare(one.low) }} to {{ formatShare(one.high) }}</td>
        <td>
          <q class="serif">{{ one.sentences[0]?.said }}</q>
        </td>
        <td class="small">
          {{
            one.promised.length
              ? one.promised
                  .slice(0, 3)
                  .map((page) => `${page.attribute} ${page.value}`)
                  .filter((text, at, all) => all.indexOf(text) === at)
                  .join("; ")
              : "nothing in their attributes"
          }}
        </td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
caption {
  text-align: left;
}

.wide-table {
  margin-bottom: 14px;
}

.wide-table :deep(table) {
  width: 100%;
}

th[scope="row"] {
  text-align: left;
  font-weight: 600;
}
</style>
