<script setup lang="ts">
import { useIntroduction } from "@/state/useIntroduction";
import { listShortcuts } from "@/state/useShortcuts";

const { introduce } = useIntroduction();
const open = defineModel<boolean>({ required: true });
</script>

<template>
  <v-dialog v-model="open" max-width="440" scrollable aria-labelledby="keys-title">
    <div class="sheet">
      <h2 id="keys-title" class="serif">Keys</h2>
      <dl>
        <template v-for="one in listShortcuts()" :key="one.does">
          <dt>
            <kbd v-for="(key, i) in one.keys" :key="key">{{
              i === 0 && one.label ? one.label : key === " " ? "Space" : key
            }}</kbd>
          </dt>
          <dd>{{ one.does }}</dd>
        </template>
      </dl>
      <p class="acts">
        <v-btn @click="open = false">Close</v-btn>
        <v-btn :to="{ path: '/glossary' }" @click="open = false">Glossary</v-btn>
        <v-btn @click="(introduce(), (open = false))">Introduction</v-btn>
      </p>
    </div>
  </v-dialog>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 18px;
  margin: 0;
}

.sheet {
  padding: 18px 22px;
  max-height: 84vh;
  overflow-y: auto;
}

h2 {
  font-size: 18px;
  margin: 0 0 12px;
}

dl {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 8px 14px;
  margin: 0 0 16px;
}

dt {
  display: flex;
  gap: 4px;
}

dd {
  margin: 0;
}
</style>
