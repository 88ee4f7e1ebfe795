<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { ref, watch } from "vue";
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
const box = ref<HTMLTextAreaElement | null>(null);
const text = ref(props.niche.note);
watch(
  () => [props.niche.id, props.niche.note] as const,
  ([, note], [before]) => {
    // A note that is being typed is not overwritten by an answer that comes late.
    if (before !== props.niche.id || document.activeElement !== box.value) text.value = note;
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
  <textarea
    ref="box"
    v-model="text"
    rows="1"
    :aria-label="`Note on ${niche.name}`"
    placeholder="a note"
    @blur="save"
    @keydown.enter.exact.prevent="box?.blur()"
    @keydown.esc.stop="box?.blur()"
  />
</template>

<style scoped>
textarea {
  font: inherit;
  color: var(--ink);
  width: 100%;
  box-sizing: border-box;
  field-sizing: content;
  min-height: 1.6em;
  resize: none;
  border: 0;
  border-bottom: 1px solid var(--q4);
  background: none;
  padding: 1px 2px;
}

textarea::placeholder {
  color: var(--ink3);
}

@media print {
  textarea {
    border: 0;
  }

  textarea::placeholder {
    color: transparent;
  }
}
</style>
