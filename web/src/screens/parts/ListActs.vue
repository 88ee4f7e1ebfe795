<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import type { ApiError } from "@/api/client";
import { type ListedKind, listQueries, saveList } from "@/api/lists";
import { formatCount } from "@/format/values";
import { howMany, type KindWords } from "@/state/useKind";
import { useNotice } from "@/state/useNotice";
import TextField from "@/ui/TextField.vue";

/** Puts chosen rows on a list: on one there is, or a new one. */
const props = defineProps<{ market: string; kind: KindWords; ids: string[] }>();
const open = defineModel<boolean>("open", { default: false });

const { notify } = useNotice();
const cache = useQueryClient();
const name = ref("");
const field = ref<InstanceType<typeof TextField> | null>(null);
const of = computed(() => props.kind.of as ListedKind);
const many = computed(() => howMany(props.kind, props.ids.length));
const lists = useQuery(
  computed(() => ({ ...listQueries.all(props.market, of.value), enabled: open.value })),
);
const there = computed(() => (lists.data.value ?? []).filter((one) => !one.removed));

function begin(): void {
  name.value = "";
  open.value = true;
  void nextTick(() => field.value?.focus());
}

async function keep(list: string): Promise<void> {
  if (!list.trim()) return;
  try {
    const made = await saveList({
      market_id: props.market,
      of: of.value,
      name: list,
      terms: props.ids,
    });
    notify(`${many.value} on the list “${made.name}”, which has ${formatCount(made.total.terms)}.`);
    open.value = false;
    await cache.invalidateQueries({ queryKey: ["lists"] });
  } catch (error) {
    notify(`Nothing was kept. ${(error as ApiError).message}`, true);
  }
}
</script>

<template>
  <form v-if="open" class="making" @submit.prevent="keep(name)">
    <TextField
      ref="field"
      v-model="name"
      class="name"
      label="Name of the list"
      placeholder="name of a list"
      @keydown.esc.stop.prevent="open = false"
    />
    <v-btn type="submit" :disabled="!name.trim()">Put on the list</v-btn>
    <v-btn
      v-for="one in there.slice(0, 4)"
      :key="one.name"
      class="small"
      :aria-label="`Put on the list ${one.name}`"
      @click="keep(one.name)"
      >{{ one.name }}</v-btn
    >
    <v-btn @click="open = false">Cancel</v-btn>
  </form>
  <v-btn v-else @click="begin">Put on a list …</v-btn>
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
