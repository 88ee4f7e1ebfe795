<script setup lang="ts">
import { defineAsyncComponent, onMounted, ref, watch } from "vue";
import { useNotice } from "@/shared/useNotice";
import { useShortcuts } from "@/shared/useShortcuts";
import { whenIdle } from "@/shared/whenIdle";
import TopBar from "./TopBar.vue";
import { useDayNight } from "./useDayNight";

/** Sheets come when the page stands, and are made when they are first asked for. */
const keySheet = () => import("./KeySheet.vue");
const jumpSheet = () => import("./JumpSheet.vue");
const KeySheet = defineAsyncComponent(keySheet);
const JumpSheet = defineAsyncComponent(jumpSheet);

const { light, toggle } = useDayNight();
const { said } = useNotice();
const keysOpen = ref(false);
const jumpOpen = ref(false);
const keysMade = ref(false);
const jumpMade = ref(false);
watch(keysOpen, () => (keysMade.value = true), { once: true });
watch(jumpOpen, () => (jumpMade.value = true), { once: true });
onMounted(() =>
  window.setTimeout(() => whenIdle(() => void Promise.all([keySheet(), jumpSheet()])), 1500),
);
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
      <TopBar :light="light ?? 'day'" @toggle="toggle" @keys="keysOpen = true" />
      <main class="main"><RouterView /></main>
    </div>
    <KeySheet v-if="keysMade" v-model="keysOpen" />
    <JumpSheet v-if="jumpMade" v-model="jumpOpen" />
    <v-snackbar
      :model-value="said !== ''"
      :timeout="5000"
      location="bottom"
      color="surface"
      @update:model-value="said = ''"
    >
      <span role="status">{{ said }}</span>
    </v-snackbar>
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
</style>
