<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { formatCount } from "@/format/values";
import SaidList from "./SaidList.vue";
import type { ThemesState } from "./useThemes";

/** What several buyers ask, or wish for, by how many texts do; and how many of the leaders' pages say it. */
defineProps<{ head: string; asked: Schemas["VoiceAsked"][]; state: ThemesState }>();
</script>

<template>
  <section>
    <h3 class="small">{{ head }}</h3>
    <details v-for="one in asked" :key="one.name">
      <summary>
        <b>{{ one.name }}</b>
        <span class="small"
          >{{ formatCount(one.texts) }} texts<template v-if="one.helpful !== null"
            >, found helpful {{ formatCount(one.helpful) }} times</template
          ><template v-if="one.of">
            ·
            {{
              one.pages
                ? `the pages of ${one.pages} of ${one.of} leaders have these words`
                : `no page of ${one.of} leaders has these words`
            }}</template
          ></span
        >
      </summary>
      <SaidList
        :sentences="one.sentences"
        :busy="state.busy.value"
        @pin="state.pin($event, one.name)"
        @unpin="state.unpin"
      />
    </details>
  </section>
</template>

<style scoped>
h3 {
  margin: 0 0 4px;
  font-weight: 400;
}

details {
  border-top: 1px solid var(--rule);
  padding: 3px 0;
}

summary {
  cursor: pointer;
}

summary .small {
  margin-left: 8px;
}

details > :deep(ul) {
  padding: 4px 0 6px 18px;
}
</style>
