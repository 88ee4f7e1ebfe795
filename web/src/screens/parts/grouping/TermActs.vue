<script setup lang="ts">
import { computed, nextTick, ref } from "vue";
import { makeNiche, moveTerms } from "@/api/grouping";
import { formatCount } from "@/format/values";
import { useNicheChange } from "@/state/useNicheChange";
import TextField from "@/ui/TextField.vue";
import NichePicker from "./NichePicker.vue";

/** What is done with chosen terms: a niche of their own, into another one, or out of theirs. */
const props = defineProps<{ market: string; terms: string[] }>();
const emit = defineEmits<{ done: [niche: string | null] }>();

const { busy, change } = useNicheChange();
const step = ref<"" | "make" | "move">("");
const name = ref("");
const field = ref<InstanceType<typeof TextField> | null>(null);
const many = computed(() =>
  props.terms.length === 1 ? "1 term" : `${formatCount(props.terms.length)} terms`,
);

function begin(): void {
  const first = props.terms[0] ?? "";
  name.value = first.slice(0, 1).toUpperCase() + first.slice(1);
  step.value = "make";
  void nextTick(() => {
    field.value?.focus();
    field.value?.select();
  });
}

async function done(work: Parameters<typeof change>[0]): Promise<void> {
  const made = await change(work);
  if (!made) return;
  step.value = "";
  emit("done", made.niche);
}

const make = (): Promise<void> =>
  done(() => makeNiche({ market_id: props.market, name: name.value, terms: props.terms }));
const move = (niche_id: string | null): Promise<void> =>
  done(() => moveTerms({ market_id: props.market, terms: props.terms, niche_id }));

defineExpose({ begin });
</script>

<template>
  <form v-if="step === 'make'" class="making" @submit.prevent="make">
    <TextField
      ref="field"
      v-model="name"
      class="name"
      :label="`Name of the niche of ${many}`"
      @keydown.esc.stop.prevent="step = ''"
    />
    <v-btn type="submit" :disabled="busy || !name.trim()">Make a niche of {{ many }}</v-btn>
    <v-btn @click="step = ''">Cancel</v-btn>
  </form>
  <template v-else-if="step === 'move'">
    <NichePicker
      :market="market"
      :label="`Niche to put ${many} into`"
      @choose="(one) => move(one.id)"
      @cancel="step = ''"
    />
    <v-btn @click="step = ''">Cancel</v-btn>
  </template>
  <template v-else>
    <v-btn :disabled="busy" @click="begin">Make a niche …</v-btn>
    <v-btn :disabled="busy" @click="step = 'move'">Put into a niche …</v-btn>
    <v-btn
      :disabled="busy"
      data-tip="They stand alone; no proposal puts them back"
      @click="move(null)"
      >Take out of {{ terms.length === 1 ? "its niche" : "their niches" }}</v-btn
    >
  </template>
</template>

<style scoped>
.making {
  display: flex;
  flex: 1 1 300px;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
}

.name {
  flex: 1 1 200px;
  max-width: 320px;
  font-family: var(--serif);
}
</style>
