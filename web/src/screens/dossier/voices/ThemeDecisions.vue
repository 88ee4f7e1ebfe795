<script setup lang="ts">
import { ref } from "vue";
import type { Schemas } from "@/api/client";
import { formatDay } from "@/format/values";
import TextField from "@/ui/TextField.vue";
import type { ThemesState } from "./useThemes";

/** A theme of one's own by words, and what was decided so far, each to be undone. */
const props = defineProps<{ decisions: Schemas["ThemeDecisionRow"][]; state: ThemesState }>();

const making = ref(false);
const name = ref("");
const words = ref("");
async function make(): Promise<void> {
  const act = {
    act: "own",
    name: name.value,
    words: words.value.split(","),
    tone: "either",
  } as const;
  if (!(await props.state.decide(act, `Counted “${name.value}”.`))) return;
  making.value = false;
  name.value = words.value = "";
}

function told(one: Schemas["ThemeDecisionRow"]): string {
  const words = one.words.join(", ");
  switch (one.act) {
    case "rename":
      return `“${one.theme}” is called “${one.name}”`;
    case "merge":
      return `“${one.theme}” went into “${one.into}”`;
    case "split":
      return `“${one.name}” was split off “${one.theme}” by ${words}`;
    case "tone":
      return `“${one.theme}” is ${one.tone === "either" ? "neither complaint nor praise" : one.tone}`;
    case "hide":
      return `“${one.theme}” is hidden`;
    case "own":
      return `“${one.name}” is counted by ${words}`;
    case "remedy":
      return `Better than “${one.theme}”: ${one.text}`;
  }
}
</script>

<template>
  <p class="acts">
    <v-btn :aria-expanded="making" @click="making = !making">Count a theme of your own</v-btn>
  </p>
  <form v-if="making" class="make" @submit.prevent="make">
    <TextField v-model="name" label="Name of your theme" placeholder="a name" />
    <span>is what says</span>
    <TextField v-model="words" label="Words of your theme" placeholder="fits, too small" />
    <v-btn type="submit" :disabled="state.busy.value">Count it</v-btn>
    <v-btn @click="making = false">Cancel</v-btn>
    <span class="small"
      >phrases with commas between; all words of one stand in a sentence, and “fits” does not count
      “does not fit”</span
    >
  </form>
  <details v-if="decisions.length" class="made">
    <summary class="small">
      {{ decisions.length }} {{ decisions.length === 1 ? "decision" : "decisions" }} on themes,
      which later imports keep
    </summary>
    <ul>
      <li v-for="one in decisions" :key="one.key">
        {{ told(one) }}
        <span class="small"
          >{{ formatDay(one.day)
          }}<template v-if="one.idle"
            >; no such theme is found at present, so it waits</template
          ></span
        >
        <v-btn class="small" :disabled="state.busy.value" @click="state.undo(one.key)">Undo</v-btn>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.acts,
.make {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 10px;
  margin: 0 0 8px;
}

.make .v-input {
  flex: 0 1 220px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 8px;
}

li {
  overflow-wrap: anywhere;
}

summary {
  cursor: pointer;
}

.made {
  margin-bottom: 12px;
}
</style>
