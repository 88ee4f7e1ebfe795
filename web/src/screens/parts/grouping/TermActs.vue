<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { makeNiche, moveTerms } from "@/api/grouping";
import { listQueries } from "@/api/lists";
import { formatCount } from "@/format/values";
import { useNicheChange } from "@/state/useNicheChange";
import { useCopy } from "@/state/useCopy";
import { KINDS } from "@/state/useKind";
import TextField from "@/ui/TextField.vue";
import ListActs from "../ListActs.vue";
import RowPicker from "../RowPicker.vue";

/** What is done with chosen terms: a niche of their own, into another one, or out of theirs. */
const props = defineProps<{
  market: string;
  terms: string[];
  /** Whether they can be copied here. */
  copies?: boolean;
}>();
const emit = defineEmits<{ done: [niche: string | null] }>();

const { busy, change } = useNicheChange();
const copy = useCopy();
const step = ref<"" | "make" | "move">("");
const listing = ref(false);
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

/** What they come to together, a mistyping and its right form counted once. */
const total = useQuery(computed(() => listQueries.total(props.market, props.terms)));
const copied = (): Promise<void> =>
  copy(props.terms.join("\n"), `${many.value} copied, a line each.`, "export the list instead");

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
  <span v-if="total.data.value?.searches_52w" v-explain="'list-total'" class="small"
    >{{ formatCount(total.data.value.searches_52w) }} searches a year<template
      v-if="total.data.value.mistyped"
      >, without {{ formatCount(total.data.value.mistyped) }} mistyped</template
    ></span
  >
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
    <RowPicker
      :market="market"
      :label="`Niche to put ${many} into`"
      @choose="(one) => move(one.id)"
      @cancel="step = ''"
    />
    <v-btn @click="step = ''">Cancel</v-btn>
  </template>
  <template v-else>
    <v-btn v-if="copies && !listing" @click="copied">Copy</v-btn>
    <ListActs v-model:open="listing" :market="market" :kind="KINDS.terms" :ids="terms" />
  </template>
  <template v-if="!step && !listing">
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
