<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { acrossQueries, type MarketBeside, type Crossing } from "@/api/across";
import RowPicker from "@/screens/parts/RowPicker.vue";
import type { KindWords } from "@/state/useKind";

/** A market without a match for a row: a possible one to confirm, or one to choose. */
const props = defineProps<{
  kind: KindWords;
  row: MarketBeside | undefined;
  other: { market_id: string; market: string };
  busy: boolean;
}>();
const emit = defineEmits<{
  match: [row: { id: string; name: string }];
  refuse: [row: { id: string; name: string }];
}>();

const proposed = useQuery(
  computed(() => ({
    ...acrossQueries.proposed({
      of: props.kind.of as Crossing,
      market: props.row?.market_id ?? "",
      other: props.other.market_id,
      row: props.row?.id ?? "",
      offset: 0,
      find: "",
    }),
    enabled: props.row !== undefined,
  })),
);
const maybe = computed(() => {
  const one = proposed.data.value?.rows[0];
  return one?.id === props.row?.id ? one : undefined;
});
const there = computed(() => ({
  id: maybe.value?.other_id ?? "",
  name: maybe.value?.other_name ?? "",
}));
const picking = ref(false);
function take(row: { id: string; name: string }): void {
  picking.value = false;
  emit("match", row);
}
</script>

<template>
  <p>
    <template v-if="picking">
      <RowPicker
        :of="kind.of"
        :market="other.market_id"
        :label="`Match in ${other.market}`"
        @choose="take"
        @cancel="picking = false"
      />
      <v-btn @click="picking = false">Cancel</v-btn>
    </template>
    <template v-else>
      <template v-if="maybe"
        ><span
          >Possible match in {{ other.market }}: <b>{{ maybe.other_name }}</b> ({{
            maybe.why
          }}).</span
        >
        <v-btn :disabled="busy" @click="take(there)">Confirm match</v-btn>
        <v-btn :disabled="busy" @click="emit('refuse', there)">Reject</v-btn></template
      ><template v-else>No match in {{ other.market }}.</template>
      <v-btn :disabled="busy" @click="picking = true">Choose a match …</v-btn>
    </template>
  </p>
</template>

<style scoped>
p {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 10px;
  margin: 0 0 4px;
}
</style>
