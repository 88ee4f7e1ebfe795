<script setup lang="ts">
import { ref, watch } from "vue";
import type { How } from "@/api/terms";
import SelectField from "@/ui/SelectField.vue";
import TextField from "@/ui/TextField.vue";

/** What is searched for: the words one came from as a path that can be cut anywhere, and how they are searched. */
const props = defineProps<{
  words: string[];
  /** Letters that were chosen on top of the words, as they are told. */
  letters: string[];
  drawn?: number | undefined;
}>();
const how = defineModel<How>("how", { required: true });
const without = defineModel<string>("without", { required: true });
const exact = defineModel<boolean>("exact", { required: true });
const emit = defineEmits<{
  /** Begins anew from what was typed. */
  begin: [text: string];
  /** Goes back to the first so many words. */
  cut: [many: number];
  draw: [];
}>();

const WAYS: { title: string; value: How }[] = [
  { title: "all of the words", value: "all" },
  { title: "any of the words", value: "any" },
  { title: "the phrase", value: "phrase" },
  { title: "begins with", value: "begins" },
  { title: "ends with", value: "ends" },
  { title: "letters inside", value: "inside" },
];

/** Whether the path ends at that word. */
const here = (i: number): boolean => i === props.words.length - 1 && !props.letters.length;

const typed = ref("");
const left = ref(without.value);
watch(without, (now) => (left.value = now));
const field = ref<InstanceType<typeof TextField> | null>(null);

function begin(): void {
  const text = typed.value.trim();
  if (!text) return;
  emit("begin", text);
  typed.value = "";
  field.value?.blur();
}

defineExpose({ focus: () => field.value?.focus() });
</script>

<template>
  <div class="seed">
    <h1 class="path serif">
      <span v-explain="'seed'">{{ words.length ? "Terms with" : "Terms from a word" }}</span>
      <template v-for="(word, i) in words" :key="`${i} ${word}`">
        <span v-if="i" aria-hidden="true">›</span>
        <v-btn
          :data-tip="here(i) ? undefined : 'Back to this word'"
          :disabled="here(i)"
          @click="$emit('cut', i + 1)"
          >{{ word }}</v-btn
        >
      </template>
      <template v-for="letter in letters" :key="letter">
        <span aria-hidden="true">›</span><b class="letter">{{ letter }}</b>
      </template>
    </h1>
    <TextField
      ref="field"
      v-model="typed"
      class="typed"
      label="A word or a phrase to begin with"
      :placeholder="words.length ? 'another word' : 'a hobby, a thing, a material'"
      @keydown.enter="begin"
    />
    <SelectField v-model="how" label="How terms have the words" :items="WAYS" />
    <TextField
      v-model="left"
      class="without"
      label="Words that terms may not have"
      placeholder="without …"
      @keydown.enter="without = left.trim()"
      @blur="without = left.trim()"
    />
    <v-checkbox v-model="exact" label="exact spelling" />
    <v-btn v-explain="'drawn-word'" @click="$emit('draw')">A word at random</v-btn>
    <span v-if="drawn" class="small">drawn by {{ drawn }}</span>
  </div>
</template>

<style scoped>
.seed {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 18px;
  padding: 8px 20px 4px;
}

.path {
  margin: 0;
  font-size: 19px;
  font-weight: 400;
  display: inline-flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 8px;
  overflow-wrap: anywhere;
}

.path :deep(.v-btn) {
  font-weight: 600;
  white-space: normal;
}

.path :deep(.v-btn--disabled) {
  opacity: 1;
}

.letter {
  font-style: italic;
}

.typed {
  flex: 1 1 200px;
  max-width: 260px;
}

.without {
  flex: 0 1 120px;
}
</style>
