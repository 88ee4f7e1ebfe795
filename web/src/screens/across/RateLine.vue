<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { MarketBeside } from "@/api/across";
import { formatDay, today } from "@/format/values";
import TextField from "@/ui/TextField.vue";

/** The exchange rate from a market's currency into the one shown, with its day, and a form to set it. */
const props = defineProps<{ market: MarketBeside; into: string; busy: boolean }>();
const emit = defineEmits<{ set: [rate: number | null, day: string] }>();

const open = ref(false);
const rate = ref("");
const day = ref("");
watch(
  () => [props.market.rate, props.market.day] as const,
  () => (open.value = false),
);
const SHOWN = 6; // Significant digits.
const shown = computed(() =>
  props.market.rate === null ? "" : String(Number(props.market.rate.toPrecision(SHOWN))),
);
const number = computed(() => Number(rate.value.trim().replace(",", ".")));
const fits = computed(() => rate.value.trim() !== "" && number.value > 0 && day.value !== "");

function begin(): void {
  rate.value = shown.value;
  day.value = props.market.day ?? today();
  open.value = true;
}
</script>

<template>
  <form v-if="open" class="rate" @submit.prevent="fits && emit('set', number, day)">
    1 {{ market.currency }} =
    <TextField
      v-model="rate"
      class="number"
      inputmode="decimal"
      :label="`Exchange rate from ${market.currency} to ${into}`"
    />
    {{ into }} on
    <TextField v-model="day" type="date" :max="today()" label="Day of the rate" />
    <v-btn type="submit" :disabled="busy || !fits">Set</v-btn>
    <v-btn v-if="market.rate !== null" :disabled="busy" @click="emit('set', null, '')"
      >Remove</v-btn
    >
    <v-btn @click="open = false">Cancel</v-btn>
  </form>
  <p v-else class="rate">
    <template v-if="market.rate !== null"
      >1 {{ market.currency }} = {{ shown }} {{ into }} (your rate<template v-if="market.day">
        of {{ formatDay(market.day) }}</template
      >)</template
    >
    <template v-else
      >No exchange rate from {{ market.currency }} to {{ into }}: amounts are not converted and not
      compared.</template
    >
    <v-btn @click="begin">{{ market.rate === null ? "Set a rate" : "Change" }}</v-btn>
  </p>
</template>

<style scoped>
.rate {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 10px;
  margin: 0 0 4px;
}

.number {
  flex: 0 0 90px;
}
</style>
