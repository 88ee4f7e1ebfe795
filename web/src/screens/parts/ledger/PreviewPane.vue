<script setup lang="ts">
import { defineAsyncComponent } from "vue";
import { NICHES, type SubjectPreview } from "@/api/client";
import ProtectedMark from "@/marks/ProtectedMark.vue";
import SignalLine from "@/marks/SignalLine.vue";
import VerdictText from "@/marks/VerdictText.vue";
import { useKind } from "@/state/useKind";

/** The selected row close up: its verdict, its curve, its years. */
defineProps<{ subject: SubjectPreview | undefined; error: string | undefined }>();
defineEmits<{ working: []; open: [] }>();

const kind = useKind();

const CurveChart = defineAsyncComponent(() => import("@/charts/CurveChart.vue"));
const YearsChart = defineAsyncComponent(() => import("@/charts/YearsChart.vue"));
</script>

<template>
  <section class="foot" :aria-label="`Selected ${kind.one}`">
    <p v-if="error" class="error">{{ error }}</p>
    <template v-else-if="subject">
      <div class="words" aria-live="polite">
        <h2 class="serif">
          <span>{{ subject.name }}<ProtectedMark :hint="subject.protected" /></span>
          <span class="acts">
            <v-btn class="small" @click="$emit('open')">{{
              kind.of === NICHES
                ? "Dossier"
                : kind.page
                  ? "Its page"
                  : `In niche: ${subject.niche_name}`
            }}</v-btn>
            <v-btn class="small" @click="$emit('working')">Working</v-btn>
            <span v-if="subject.misspelt_of" v-explain="'misspelt'" class="small wrong"
              >likely mistyped, of “{{ subject.misspelt_of }}”</span
            >
            <slot />
          </span>
        </h2>
        <SignalLine :signals="subject.signals" />
        <VerdictText :subject="subject" brief />
      </div>
      <CurveChart v-if="subject.values.length" class="curve" :subject="subject" />
      <YearsChart v-if="subject.years.length > 1" class="years" :subject="subject" />
    </template>
    <p v-else class="small">Select a {{ kind.one }} to see its curve and verdict.</p>
  </section>
</template>

<style scoped>
.wrong {
  color: var(--ochre-text);
}

.foot {
  display: grid;
  grid-template-columns: 306px minmax(0, 1fr) minmax(0, 290px);
  gap: 22px;
  flex: none;
  height: 199px;
  box-sizing: border-box;
  padding: 10px var(--gutter) 8px;
  background: var(--page);
  border-top: 1px solid var(--ink);
}

.words {
  overflow-y: auto;
  scrollbar-width: thin;
  font: 13.5px/1.34 var(--serif);
  color: var(--ink2);
}

h2 {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  justify-content: space-between;
  gap: 2px 10px;
  font-size: 17px;
  line-height: 1.15;
  margin: 0 0 4px;
  color: var(--ink);
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
}

h2 .v-btn,
h2 :slotted(.v-btn) {
  font: 11px/1.2 var(--condensed);
}

p {
  margin: 0 0 2px;
}

.error {
  color: var(--rust);
  grid-column: 1 / -1;
}

@media (max-width: 980px) {
  .foot {
    grid-template-columns: 320px minmax(0, 1fr);
  }

  .foot .years {
    display: none;
  }
}

@media (max-width: 620px) {
  .foot {
    grid-template-columns: minmax(0, 1fr);
  }

  .foot .curve {
    display: none;
  }
}
</style>
