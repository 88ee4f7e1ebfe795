<script setup lang="ts">
import { ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { COLUMNS } from "@/screens/parts/ledger/columns";
import LedgerView from "@/screens/parts/ledger/LedgerView.vue";
import { useIntroduction } from "@/state/useIntroduction";
import { KINDS, provideKind } from "@/state/useKind";
import { useListState } from "@/state/useListState";
import { useTabTitle } from "@/state/useTabTitle";
import { whenIdle } from "@/ui/whenIdle";

/** The home: the niches of a market, ranked. */
const route = useRoute();
const router = useRouter();
const state = useListState(provideKind(KINDS.niches));
useTabTitle("Field");

const ledger = ref<InstanceType<typeof LedgerView> | null>(null);
const { offer } = useIntroduction();
watch(
  () => ledger.value?.ready && ledger.value.total,
  (some) => some && whenIdle(offer),
);

/** Whether the marked niches were enough for a brand, together. */
function asFamily(chosen: string[]): void {
  void router.push({ path: "/families", query: { market: route.query["market"], chosen } });
}

function openDossier(niche: string): void {
  void router.push({ path: "/dossier", query: { ...route.query, view: undefined, niche } });
}
</script>

<template>
  <LedgerView
    ref="ledger"
    :state="state"
    label="Ranked niches"
    :usual="COLUMNS"
    @open="({ id }) => openDossier(id)"
  >
    <template #marked="{ marked }">
      <v-btn v-if="marked.length > 1" @click="asFamily(marked)">As a family</v-btn>
    </template>
  </LedgerView>
</template>
