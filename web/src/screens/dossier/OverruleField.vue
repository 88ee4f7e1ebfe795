<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import type { ApiError, NichePreview } from "@/api/client";
import { overrule } from "@/api/registry";
import { useNotice } from "@/state/useNotice";
import TextField from "@/ui/TextField.vue";

/** A setting of the market that can be another one for this niche. */
const props = defineProps<{
  market: string;
  niche: NichePreview;
  setting: "lead_days" | "target_income" | "review_limit";
  label: string;
  unit?: string;
}>();

const cache = useQueryClient();
const { notify } = useNotice();
const now = computed(() => String(props.niche[props.setting]));
const own = computed(() => props.niche.overruled.includes(props.setting));
const typed = ref(now.value);
/** What was sent last: Enter both submits and changes the field. */
let sent = now.value;
watch(now, (value) => {
  typed.value = sent = value;
});

async function save(value: number | null): Promise<void> {
  try {
    await overrule({ market_id: props.market, niche_id: props.niche.id, [props.setting]: value });
    void cache.invalidateQueries();
    notify(
      value === null
        ? `${props.label}: the market’s again.`
        : `${props.label} kept for this niche.`,
    );
  } catch (error) {
    typed.value = sent = now.value;
    notify(`Not kept: ${(error as ApiError).message}`, true);
  }
}
function change(): void {
  const text = typed.value.trim().replaceAll(",", "");
  if (text === sent) return;
  if (!/^\d+(\.\d+)?$/.test(text)) {
    notify(`${props.label}: expected a number; got “${typed.value}”.`);
    typed.value = now.value;
    return;
  }
  sent = text;
  void save(Number(text));
}
</script>

<template>
  <form class="overrule" @submit.prevent="change">
    <span>{{ label }}</span>
    <TextField
      v-model="typed"
      inputmode="decimal"
      :label="`${label} for this niche`"
      @change="change"
    />
    <span>{{ unit }}</span>
    <v-btn v-if="own" class="small" @click="save(null)">the market’s again</v-btn>
    <span v-else class="small">the market’s; typed here it holds for this niche alone</span>
  </form>
</template>

<style scoped>
.overrule {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 8px;
  margin: 4px 0 12px;
}

.overrule .v-input {
  flex: 0 0 90px;
  font-weight: 600;
}
</style>
