<script setup lang="ts">
/** Where ids are pasted in any form; they are taken once one says so. */
const pasted = defineModel<string>({ required: true });
defineProps<{ label: string; hint: string; act: string }>();
const emit = defineEmits<{ add: [] }>();

function add(): void {
  if (pasted.value.trim()) emit("add");
}
</script>

<template>
  <form class="paste" @submit.prevent="add">
    <v-textarea v-model="pasted" rows="1" auto-grow :aria-label="label" :placeholder="hint" />
    <v-btn type="submit" :disabled="!pasted.trim()">{{ act }}</v-btn>
  </form>
</template>

<style scoped>
.paste {
  display: flex;
  gap: 14px;
  align-items: end;
  max-width: 760px;
}

.paste > :first-child {
  min-width: 0;
}
</style>
