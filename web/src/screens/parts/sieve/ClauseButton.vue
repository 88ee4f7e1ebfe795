<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { computed, defineAsyncComponent, ref, watch } from "vue";
import type { ApiError, FigureRow, Schemas } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import { formatCount } from "@/format/values";
import { rangeText } from "./rangeText";
import type { ConditionRow } from "@/screens/parts/ledger/useLedger";
import TextField from "@/ui/TextField.vue";
import { useKind } from "@/state/useKind";

const SpreadPicker = defineAsyncComponent(() => import("./SpreadPicker.vue"));

/** One condition in the sentence: read it, change it, switch it off, remove it. */
const props = defineProps<{
  condition: ConditionRow;
  others: string[];
  market: string | undefined;
  figures: FigureRow[];
}>();
const emit = defineEmits<{ change: [text: string]; remove: [] }>();
const kind = useKind();

const open = ref(false);
const plain = computed(() => props.condition.text.replace(/^~/, ""));
const text = ref(plain.value);
const cache = useQueryClient();
const wrong = ref("");
const offers = ref<Schemas["OfferRow"][]>([]);
watch([plain, open], () => {
  text.value = plain.value;
  wrong.value = "";
  offers.value = [];
});
const figure = computed(() => props.figures.find((one) => one.key === props.condition.figure));

async function apply(): Promise<void> {
  try {
    const read = await cache.fetchQuery(
      ledgerQueries.condition(kind.of, props.market, text.value.trim()),
    );
    wrong.value = read.problem ?? "";
    offers.value = read.offers;
    if (!read.condition) return;
    emit("change", read.condition);
    open.value = false;
  } catch (error) {
    wrong.value = (error as ApiError).message;
  }
}

function setRange(low: number | null, high: number | null): void {
  if (figure.value) emit("change", rangeText(figure.value, low, high));
}

function remove(): void {
  open.value = false;
  emit("remove");
}

function flip(): void {
  emit("change", props.condition.on ? `~${plain.value}` : plain.value);
}
</script>

<template>
  <v-menu v-model="open" location="bottom start">
    <template #activator="{ props: opens }">
      <v-btn
        v-explain="condition.removes ? 'removes' : 'condition'"
        variant="plain"
        v-bind="opens"
        class="clause"
        :class="{ off: !condition.on }"
      >
        {{ condition.sentence
        }}<span v-if="condition.removes" class="removes small"
          >−{{ formatCount(condition.removes) }}</span
        >
      </v-btn>
    </template>
    <div class="sheet" role="dialog" :aria-label="condition.sentence">
      <form @submit.prevent="apply">
        <TextField v-model="text" label="The condition" spellcheck="false" />
        <v-btn type="submit">Set</v-btn>
      </form>
      <p v-if="wrong" class="wrong" role="alert">
        {{ wrong }}
        <v-btn v-for="one in offers" :key="one.text" @click="((text = one.text), apply())">
          {{ one.sentence }}
        </v-btn>
      </p>
      <SpreadPicker
        v-if="figure && condition.figure"
        :market="market"
        :figure="condition.figure"
        :type="figure.type"
        :others="others"
        :low="condition.low"
        :high="condition.high"
        @range="setRange"
      />
      <p class="small">
        <template v-if="!condition.on">Off: it removes nothing.</template>
        <template v-else-if="condition.removes"
          >Removes {{ formatCount(condition.removes) }} that pass all the others.</template
        >
        <template v-else>Removes nothing that passes all the others.</template>
      </p>
      <p class="acts">
        <v-btn @click="flip">
          {{ condition.on ? "Switch off" : "Switch on" }}
        </v-btn>
        <v-btn @click="remove">Remove</v-btn>
      </p>
    </div>
  </v-menu>
</template>

<style scoped>
.clause {
  background: none;
  border: 0;
  border-bottom: 1px solid var(--q4);
  padding: 0 2px;
  cursor: pointer;
}

.off {
  color: var(--ink3);
  text-decoration: line-through;
  border-bottom-style: dashed;
}

.removes {
  margin-left: 4px;
  vertical-align: 4px;
  font-family: var(--condensed);
  color: var(--ink3);
}

.sheet {
  padding: 12px 14px;
  width: 290px;
}

form {
  display: flex;
  gap: 10px;
}

p {
  margin: 8px 0 0;
}

.acts {
  display: flex;
  gap: 16px;
}

.wrong {
  font: 12px/1.35 var(--sans);
  color: var(--rust);
}
</style>
