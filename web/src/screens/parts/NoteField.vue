<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import type { VTextarea } from "vuetify/components";
import { type ApiError, NICHES } from "@/api/client";
import { saveRemark, SHORTLIST } from "@/api/desk";
import { nicheQueries } from "@/api/niche";
import { useNotice } from "@/state/useNotice";

/** A niche's note. It is kept when the field is left; Enter leaves it, Shift and Enter makes a line. */
const props = defineProps<{
  market: string;
  niche: { id: string; name: string; note: string };
}>();

const cache = useQueryClient();
const { notify } = useNotice();
const field = ref<VTextarea | null>(null);
/** The library passes on what is asked of its element. */
const box = computed(() => field.value as unknown as HTMLTextAreaElement | null);
const typing = ref(false);
const text = ref(props.niche.note);
watch(
  () => [props.niche.id, props.niche.note] as const,
  ([, note], [before]) => {
    // A note that is being typed is not overwritten by an answer that comes late.
    if (before !== props.niche.id || !typing.value) text.value = note;
  },
);

async function save(): Promise<void> {
  const { id, name, note } = props.niche;
  const wanted = text.value.trim();
  if (wanted === note) return;
  try {
    const saved = await saveRemark({ market_id: props.market, of: NICHES, id, note: wanted });
    cache.setQueryData(
      nicheQueries.preview(props.market, id).queryKey,
      (one) => one && { ...one, note: saved.note },
    );
    await cache.invalidateQueries({ queryKey: SHORTLIST });
    notify(`Note on ${name} kept.`);
  } catch (error) {
    notify(`The note on ${name} is not kept: ${(error as ApiError).message}`);
  }
}

defineExpose({ focus: () => box.value?.focus() });
</script>

<template>
  <v-textarea
    ref="field"
    v-model="text"
    :aria-label="`Note on ${niche.name}`"
    :aria-labelledby="undefined"
    placeholder="a note"
    @update:focused="typing = $event"
    @blur="save"
    @keydown.enter.exact.prevent="box?.blur()"
    @keydown.esc.stop="box?.blur()"
  >
    <!-- Nothing here is ever loading; the library would set up a bar for it in every field. -->
    <template #loader></template>
  </v-textarea>
</template>

<style scoped>
@media print {
  .v-textarea :deep(textarea::placeholder) {
    color: transparent;
  }

  .v-textarea :deep(.v-field__outline) {
    display: none;
  }
}
</style>
