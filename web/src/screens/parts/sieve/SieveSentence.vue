<script setup lang="ts">
import { ref } from "vue";
import type { FigureRow } from "@/api/client";
import type { ConditionRow } from "@/screens/parts/ledger/useLedger";
import { useKind } from "@/state/useKind";
import ClauseButton from "./ClauseButton.vue";
import ConditionInput from "./ConditionInput.vue";

/** Conditions as one sentence; each of them can be clicked, changed and switched off, and another one added. */
const props = defineProps<{
  market: string | undefined;
  sieve: ConditionRow[];
  figures: FigureRow[];
  /** What is said where another one could be typed. */
  placeholder: string;
}>();
const conditions = defineModel<string[]>("conditions", { required: true });
const kind = useKind();
const name = kind.many[0]?.toUpperCase() + kind.many.slice(1);

const input = ref<InstanceType<typeof ConditionInput> | null>(null);

function change(place: number, text: string): void {
  conditions.value = props.sieve.map((one, i) => (i === place ? text : one.text));
}

function remove(place: number): void {
  conditions.value = props.sieve.map((one) => one.text).filter((_, i) => i !== place);
}

function add(text: string): void {
  if (!conditions.value.includes(text)) conditions.value = [...conditions.value, text];
}

const others = (place: number): string[] =>
  props.sieve.filter((_, i) => i !== place).map((one) => one.text);

defineExpose({ focus: () => input.value?.focus() });
</script>

<template>
  <div class="sentence serif">
    {{ sieve.length ? `${name} where` : `All ${kind.many}, or those where` }}
    <template v-for="(condition, i) in sieve" :key="i">
      <ClauseButton
        :condition="condition"
        :others="others(i)"
        :market="market"
        :figures="figures"
        @change="change(i, $event)"
        @remove="remove(i)"
      />{{ i < sieve.length - 2 ? "," : "" }} {{ i === sieve.length - 2 ? " and " : "" }}
    </template>
    <template v-if="sieve.length"> and </template>
    <ConditionInput
      ref="input"
      :figures="figures"
      :market="market"
      :others="sieve.map((one) => one.text)"
      :placeholder="sieve.length ? 'another condition' : placeholder"
      @add="add"
    />
  </div>
</template>

<style scoped>
.sentence {
  font-size: 16px;
  line-height: 1.5;
}
</style>
