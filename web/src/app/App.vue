<script setup lang="ts">
import { defineAsyncComponent, ref, watch } from "vue";
import { useIntroduction } from "@/state/useIntroduction";
import { useNotice } from "@/state/useNotice";
import { useShortcuts } from "@/state/useShortcuts";
import TipLayer from "@/ui/TipLayer.vue";
import JumpSheet from "./JumpSheet.vue";
import KeySheet from "./KeySheet.vue";
import NichesAlone from "./NichesAlone.vue";
import TopBar from "./TopBar.vue";
import { useChanges } from "@/state/useChanges";
import { useDayNight } from "@/state/useDayNight";
import { useMarket } from "@/state/useMarket";

const IntroductionCard = defineAsyncComponent(() => import("./IntroductionCard.vue"));

useChanges();
const { market } = useMarket();
const { light, toggle } = useDayNight();
const { notice, stays: noticeStays, count: noticeCount } = useNotice();
const keysOpen = ref(false);
const jumpOpen = ref(false);
const { step: introduced } = useIntroduction();
/** Sheets are made when they are first asked for, so that the start does not wait for them. */
const keysMade = ref(false);
const jumpMade = ref(false);
watch(keysOpen, () => (keysMade.value = true), { once: true, flush: "sync" });
watch(jumpOpen, () => (jumpMade.value = true), { once: true, flush: "sync" });
useShortcuts([
  {
    keys: ["k"],
    label: "Ctrl K",
    chord: true,
    does: "Go to anything",
    run: () => (jumpOpen.value = true),
  },
  { keys: ["?"], does: "Show these keys", run: () => (keysOpen.value = true) },
  { keys: ["n"], does: "Day or night", run: toggle },
]);
</script>

<template>
  <v-app>
    <div class="app">
      <TopBar :light="light" @toggle="toggle" @keys="keysOpen = true" />
      <main class="main">
        <!-- A screen that shows any kind is made anew for another one. -->
        <RouterView v-slot="{ Component, route }">
          <NichesAlone v-if="route.meta['imported'] && market?.data_set" :market="market" />
          <component
            :is="Component"
            v-else
            :key="`${route.path} ${String(route.query['of'] ?? '')}`"
          />
        </RouterView>
      </main>
    </div>
    <KeySheet v-if="keysMade" v-model="keysOpen" />
    <JumpSheet v-if="jumpMade" v-model="jumpOpen" />
    <v-snackbar
      v-if="noticeCount"
      :key="noticeCount"
      :model-value="notice !== ''"
      v-bind="noticeStays ? { timeout: -1 } : {}"
      @update:model-value="notice = ''"
    >
      {{ notice }}
      <template v-if="noticeStays" #actions>
        <v-btn @click="notice = ''">Close</v-btn>
      </template>
    </v-snackbar>
    <IntroductionCard v-if="introduced !== null" />
    <TipLayer />
  </v-app>
</template>

<style scoped>
.app {
  display: flex;
  flex-direction: column;
  height: 100vh;
}

.main {
  flex: 1;
  min-height: 0;
}

@media (max-height: 540px) {
  .main {
    overflow: auto;
  }
}
</style>
