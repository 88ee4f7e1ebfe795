<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from "vue";
import type { VTextarea } from "vuetify/components";
import { useDrafts } from "@/state/useDrafts";
import { useKind } from "@/state/useKind";
import { useNotice } from "@/state/useNotice";

/**
 * A niche's note. What is typed is kept in this browser at once and by the server when the field is left; Enter leaves
 * it, Shift and Enter makes a line. A note that was changed elsewhere meanwhile is never overwritten unasked.
 */
const props = defineProps<{
  market: string;
  niche: { id: string; name: string; note: string };
}>();

const kind = useKind();
const { draftOf, keep, drop, send } = useDrafts();
const { notify } = useNotice();
const field = ref<VTextarea | null>(null);
/** The library passes on what is asked of its element. */
const box = computed(() => field.value as unknown as HTMLTextAreaElement | null);
const typing = ref(false);
const draft = computed(() => draftOf(kind.of, props.market, props.niche.id));
const text = computed(() => draft.value?.text ?? props.niche.note);
/** Whether what is typed waits for the server, and no one is typing on. */
const waiting = computed(() => draft.value !== undefined && !typing.value);

function type(typed: string): void {
  const { id, name, note } = props.niche;
  if (typed === note && draft.value?.theirs === undefined) drop(kind.of, props.market, id);
  else
    keep({
      was: note,
      ...draft.value,
      problem: undefined,
      of: kind.of,
      market: props.market,
      id,
      name,
      text: typed,
    });
}

async function save(market: string, id: string, name: string): Promise<void> {
  const wanted = draftOf(kind.of, market, id);
  if (!wanted || wanted.theirs !== undefined) return;
  if (wanted.text.trim() === wanted.was) {
    drop(kind.of, market, id);
    return;
  }
  if (await send(kind.of, market, id)) notify(`Note on ${name} kept.`);
}

function leave(): void {
  typing.value = false;
  void save(props.market, props.niche.id, props.niche.name);
}

/** Of two notes the one that was typed here. */
async function keepMine(): Promise<void> {
  if (!draft.value) return;
  keep({ ...draft.value, was: draft.value.theirs ?? "", theirs: undefined });
  await save(props.market, props.niche.id, props.niche.name);
}

// Another niche comes up, or the field goes, without its being left: what was typed is sent all the same.
watch(
  () => props.niche,
  (_, before) => {
    if (before.id !== props.niche.id) void save(props.market, before.id, before.name);
  },
);
onBeforeUnmount(leave);

defineExpose({ focus: () => box.value?.focus() });
</script>

<template>
  <div class="note">
    <v-textarea
      ref="field"
      :model-value="text"
      :aria-label="`Note on ${niche.name}`"
      :aria-labelledby="undefined"
      placeholder="a note"
      @update:model-value="type"
      @update:focused="typing = $event"
      @blur="leave"
      @keydown.enter.exact.prevent="box?.blur()"
      @keydown.esc.stop="box?.blur()"
    >
      <!-- Nothing here is ever loading; the library would set up a bar for it in every field. -->
      <template #loader></template>
    </v-textarea>
    <p v-if="draft?.theirs !== undefined" class="small state" role="alert">
      Changed elsewhere meanwhile to “{{ draft.theirs || "nothing" }}”. Yours is kept in this
      browser.
      <v-btn @click="keepMine">Keep mine</v-btn>
      <v-btn @click="drop(market, niche.id)">Take theirs</v-btn>
    </p>
    <p v-else-if="waiting && draft?.problem" class="small state" role="status">
      Not saved yet; kept in this browser and sent again. {{ draft.problem }}
    </p>
  </div>
</template>

<style scoped>
.state {
  margin: 2px 0 0;
  color: var(--rust);
}

@media print {
  .v-textarea :deep(textarea::placeholder) {
    color: transparent;
  }

  .v-textarea :deep(.v-field__outline) {
    display: none;
  }
}
</style>
