<script setup lang="ts">
import { ref, watch } from "vue";
import TextField from "@/ui/TextField.vue";
import { type Field, typedOf, valueOf } from "./fields";

/** Lines of a plan's form. What is typed stands as it was typed, also where it is no number yet. */
const props = defineProps<{
  fields: Field[];
  values: Record<string, unknown>;
  /** What the lines belong to, for those who do not see it. */
  of: string;
  /** Whether the fields are laid out in a row. */
  row?: boolean;
}>();
const emit = defineEmits<{ change: [key: string, value: unknown] }>();

const typed = ref<Record<string, string>>({});
const wrong = ref<Record<string, boolean>>({});
let told = "";
watch(
  () => props.values,
  (values) => {
    // Only what came from elsewhere: what is being typed must not be written over.
    if (JSON.stringify(values) === told) return;
    typed.value = Object.fromEntries(
      props.fields.map((field) => [field.key, typedOf(field, values[field.key])]),
    );
    told = JSON.stringify(values);
  },
  { immediate: true, deep: true },
);

function type(field: Field, text: string): void {
  typed.value[field.key] = text;
  const value = valueOf(field, text);
  wrong.value[field.key] = value === undefined;
  if (value === undefined) return;
  told = JSON.stringify({ ...props.values, [field.key]: value });
  emit("change", field.key, value);
}
</script>

<template>
  <div :class="{ row }">
    <label v-for="field in fields" :key="field.key" class="line">
      <span :class="{ small: row }">{{ field.label }}</span>
      <TextField
        :model-value="typed[field.key] ?? ''"
        :type="field.as === 'day' ? 'date' : undefined"
        :inputmode="field.as === 'text' || field.as === 'day' ? undefined : 'decimal'"
        :label="`${field.label}, ${of}`"
        :placeholder="field.usual"
        :error="wrong[field.key] ?? false"
        @update:model-value="type(field, $event)"
      />
      <em v-if="wrong[field.key]" class="small" role="alert">expected a number</em>
    </label>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 118px;
  gap: 0 10px;
  align-items: baseline;
  padding: 1px 0;
}

em {
  grid-column: 2;
  color: var(--rust);
  font-style: normal;
}

.row {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 2px 8px;
}

.row .line {
  display: block;
}
</style>
