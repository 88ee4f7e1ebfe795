<script setup lang="ts">
import { ref } from "vue";
import type { Schemas } from "@/api/client";
import { betterLine, spares } from "@/format/voices";
import { formatCount, formatShare } from "@/format/values";
import TextField from "@/ui/TextField.vue";
import type { Theme, ThemesState } from "./useThemes";

/** From complaint to product: what a better one would do, each line with its evidence. */
const props = defineProps<{
  complaints: Theme[];
  detail: Schemas["NicheVoices"];
  state: ThemesState;
}>();

const editing = ref("");
const text = ref("");
function edit(one: Theme): void {
  editing.value = editing.value === one.id ? "" : one.id;
  text.value = one.remedy;
}
async function save(one: Theme): Promise<void> {
  const act = { act: "remedy", theme: one.id, text: text.value } as const;
  if (await props.state.decide(act, `Kept what a better product would do about “${one.name}”.`))
    editing.value = "";
}
</script>

<template>
  <v-table class="wide-table better">
    <caption class="small">
      What a better product would do: it goes into the brief
    </caption>
    <thead>
      <tr>
        <th v-explain="'voice-better'" scope="col">a better product</th>
        <th v-explain="'voice-share'" scope="col" class="number">complained of in</th>
        <th v-explain="'voice-leaders'" scope="col" class="number">leaders with it</th>
        <th v-explain="'voice-spared'" scope="col">returns it would spare</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in complaints" :key="one.id">
        <th scope="row">
          <form v-if="editing === one.id" class="edit" @submit.prevent="save(one)">
            <TextField
              v-model="text"
              :label="`What a better product would do about ${one.name}`"
              :placeholder="betterLine(one)"
            />
            <v-btn type="submit" :disabled="state.busy.value">Keep</v-btn>
            <v-btn @click="editing = ''">Cancel</v-btn>
          </form>
          <template v-else
            >{{ betterLine(one)
            }}<v-btn class="small" :aria-label="`Word it: ${one.name}`" @click="edit(one)"
              >Word it</v-btn
            ></template
          >
        </th>
        <td class="number">
          {{ formatShare(one.share) }} of {{ formatCount(detail.texts) }} texts ({{
            formatShare(one.low)
          }}
          to {{ formatShare(one.high) }})
        </td>
        <td class="number">
          {{ one.sharing }} of {{ detail.leaders_of
          }}<template v-if="one.lacking">, {{ one.lacking }} surely lack it</template>
        </td>
        <td>{{ spares(one, detail) }}</td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
caption {
  text-align: left;
}

.better {
  margin-bottom: 14px;
}

.better :deep(table) {
  width: 100%;
}

th[scope="row"] {
  text-align: left;
  font-weight: 600;
}

th[scope="row"] > .v-btn {
  margin-left: 8px;
}

.edit {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
</style>
