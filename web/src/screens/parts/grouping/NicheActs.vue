<script setup lang="ts">
import { nextTick, ref, watch } from "vue";
import { mergeNiches, renameNiche } from "@/api/grouping";
import { useNicheChange } from "@/state/useNicheChange";
import TextField from "@/ui/TextField.vue";
import RowPicker from "../RowPicker.vue";

/** What is done with a niche as a whole: another name, or part of another one. */
const props = defineProps<{ market: string; niche: { id: string; name: string } }>();
const emit = defineEmits<{ merged: [into: string] }>();

const { busy, change } = useNicheChange();
const step = ref<"" | "name" | "merge">("");
const name = ref("");
const field = ref<InstanceType<typeof TextField> | null>(null);
watch(
  () => props.niche.id,
  () => (step.value = ""),
);

function begin(): void {
  name.value = props.niche.name;
  step.value = "name";
  void nextTick(() => {
    field.value?.focus();
    field.value?.select();
  });
}

async function rename(): Promise<void> {
  const wanted = { market_id: props.market, niche_id: props.niche.id, name: name.value };
  if (await change(() => renameNiche(wanted))) step.value = "";
}

async function merge(into: string): Promise<void> {
  const wanted = { market_id: props.market, niches: [props.niche.id], into };
  await change(
    () => mergeNiches(wanted),
    () => {
      step.value = "";
      emit("merged", into);
    },
  );
}
</script>

<template>
  <form v-if="step === 'name'" @submit.prevent="rename">
    <TextField
      ref="field"
      v-model="name"
      label="Name of the niche"
      @keydown.esc.stop.prevent="step = ''"
    />
    <v-btn type="submit" :disabled="busy || !name.trim()">Rename</v-btn>
    <v-btn @click="step = ''">Cancel</v-btn>
  </form>
  <div v-else-if="step === 'merge'">
    <RowPicker
      :market="market"
      :besides="niche.id"
      :label="`Niche that ${niche.name} becomes part of`"
      @choose="(one) => merge(one.id)"
      @cancel="step = ''"
    />
    <v-btn @click="step = ''">Cancel</v-btn>
  </div>
  <p v-else class="small">
    <v-btn @click="begin">Rename …</v-btn>
    <v-btn data-tip="All its terms go there; an undo brings it back" @click="step = 'merge'"
      >Merge into …</v-btn
    >
  </p>
</template>

<style scoped>
p,
form,
div {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  margin: 0;
}
</style>
