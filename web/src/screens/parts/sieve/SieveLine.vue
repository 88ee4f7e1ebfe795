<script setup lang="ts">
import { ref } from "vue";
import type { FigureRow } from "@/api/client";
import { formatCount } from "@/format/values";
import ClauseButton from "./ClauseButton.vue";
import ConditionInput from "./ConditionInput.vue";
import SieveMenu from "./SieveMenu.vue";
import type { ConditionRow } from "@/screens/parts/ledger/useLedger";
import { useKind } from "@/state/useKind";

/** The sieve as one sentence; every condition in it can be clicked, changed and switched off. */
const props = defineProps<{
  market: string | undefined;
  sieve: ConditionRow[];
  figures: FigureRow[];
  count: number;
  nearCount: number;
  total: number;
  /** Name of the lens that ranks. */
  lens: string;
}>();
const conditions = defineModel<string[]>("conditions", { required: true });
const near = defineModel<boolean>("near", { required: true });
const lensOpen = defineModel<boolean>("lensOpen", { required: true });
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

function clear(): void {
  conditions.value = [];
  near.value = false;
}

defineExpose({ focus: () => input.value?.focus() });
</script>

<template>
  <section class="sieve" aria-label="Conditions">
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
        :placeholder="sieve.length ? 'another condition' : 'price 12 to 45, or words'"
        @add="add"
      />
    </div>
    <div class="count">
      <SieveMenu :conditions="sieve.map((one) => one.text)" @use="conditions = $event" />
      <span v-explain="'passes'" role="status"
        ><b>{{ formatCount(count) }}</b> of {{ formatCount(total) }} pass</span
      >
      <v-btn v-if="sieve.length" @click="clear">Clear the conditions</v-btn>
      <v-btn
        v-if="nearCount || near"
        v-explain="'near-miss'"
        :aria-pressed="near"
        @click="near = !near"
      >
        {{ near ? "Hide" : "Show" }} {{ formatCount(nearCount) }} near
        {{ nearCount === 1 ? "miss" : "misses" }}
      </v-btn>
      <span class="acts"><slot /></span>
      <v-btn v-explain="'lens'" :aria-expanded="lensOpen" @click="lensOpen = !lensOpen">
        Lens: {{ lens }}
      </v-btn>
    </div>
  </section>
</template>

<style scoped>
.sieve {
  background: var(--page);
  border-bottom: 1px solid var(--rule);
  padding: 6px var(--gutter) 5px;
}

.sentence {
  font-size: 16px;
  line-height: 1.5;
}

.count {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px 16px;
  margin: 6px 0 0;
  font-size: 12px;
  color: var(--ink2);
}

.acts {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
}

.count b {
  color: var(--ink);
}
</style>
