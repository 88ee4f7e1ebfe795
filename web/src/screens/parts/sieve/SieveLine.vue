<script setup lang="ts">
import { ref } from "vue";
import type { FigureRow } from "@/api/client";
import { formatCount } from "@/format/values";
import type { ConditionRow } from "@/screens/parts/ledger/useLedger";
import SieveMenu from "./SieveMenu.vue";
import SieveSentence from "./SieveSentence.vue";

/** The sieve as one sentence; every condition in it can be clicked, changed and switched off. */
defineProps<{
  market: string | undefined;
  sieve: ConditionRow[];
  figures: FigureRow[];
  count: number;
  nearCount: number;
  total: number;
  /** Name of the lens that ranks; none where nothing is ranked. */
  lens: string | undefined;
}>();
const conditions = defineModel<string[]>("conditions", { required: true });
const near = defineModel<boolean>("near", { required: true });
const lensOpen = defineModel<boolean>("lensOpen", { required: true });
const sentence = ref<InstanceType<typeof SieveSentence> | null>(null);

function clear(): void {
  conditions.value = [];
  near.value = false;
}

defineExpose({ focus: () => sentence.value?.focus() });
</script>

<template>
  <section class="sieve" aria-label="Conditions">
    <SieveSentence
      ref="sentence"
      v-model:conditions="conditions"
      :market="market"
      :sieve="sieve"
      :figures="figures"
      placeholder="price 12 to 45, or words"
    />
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
      <v-btn v-if="lens" v-explain="'lens'" :aria-expanded="lensOpen" @click="lensOpen = !lensOpen">
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
  gap: 6px 16px;
}

.count b {
  color: var(--ink);
}
</style>
