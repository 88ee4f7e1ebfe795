<script setup lang="ts">
import { ref } from "vue";
import type { VTextField } from "vuetify/components";

/** A line to type in. Its name is said by `label`, which is not shown: the text next to it says it to the eye. */
defineProps<{ label: string }>();
const model = defineModel<string>({ default: "" });

const field = ref<VTextField | null>(null);
defineExpose({
  focus: () => field.value?.focus(),
  select: () => (field.value as unknown as HTMLInputElement | null)?.select(),
  blur: () => (field.value as unknown as HTMLInputElement | null)?.blur(),
});
</script>

<template>
  <v-text-field
    ref="field"
    v-model="model"
    :aria-label="label"
    :aria-labelledby="undefined"
    autocomplete="off"
  >
    <!-- Nothing here is ever loading; the library would set up a bar for it in every field. -->
    <template #loader></template>
    <template v-for="(_, name) in $slots" :key="name" #[name]><slot :name="name" /></template>
  </v-text-field>
</template>
