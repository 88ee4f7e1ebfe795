<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { deskQueries, removeSieve, saveSieves, SIEVES } from "@/api/desk";
import TextField from "@/ui/TextField.vue";
import { useKind } from "@/state/useKind";

/** Sieves by name: some to start from, your own, and saving the sentence as it stands. */
const props = defineProps<{ conditions: string[] }>();
const emit = defineEmits<{ use: [conditions: string[]] }>();
const kind = useKind();

type SieveRow = Schemas["SieveRow"];

const cache = useQueryClient();
const sieves = useQuery(deskQueries.sieves(kind.of));
const open = ref(false);
const name = ref("");
const message = ref("");
const removed = ref<SieveRow | null>(null);
const picker = ref<HTMLInputElement | null>(null);
const own = computed(() => (sieves.data.value ?? []).filter((one) => one.own));
const starting = computed(() => (sieves.data.value ?? []).filter((one) => !one.own));

function use(one: SieveRow): void {
  emit("use", one.conditions);
  open.value = false;
}

/** Runs what changes the sieves, and says what came of it. */
async function change(work: () => Promise<unknown>, done: string): Promise<void> {
  try {
    await work();
    message.value = done;
    await cache.invalidateQueries({ queryKey: SIEVES });
  } catch (error) {
    message.value = (error as ApiError).message;
  }
}

async function save(): Promise<void> {
  const wanted = name.value.trim();
  const conditions = props.conditions;
  await change(() => saveSieves([{ name: wanted, conditions }]), `Saved as “${wanted}”.`);
}

/** A copy beside it, under a name that is free. */
async function duplicate(one: SieveRow): Promise<void> {
  const names = new Set((sieves.data.value ?? []).map((other) => other.name));
  let copy = `${one.name}, copy`;
  for (let i = 2; names.has(copy); i++) copy = `${one.name}, copy ${i}`;
  await change(
    () => saveSieves([{ name: copy, conditions: one.conditions }]),
    `Duplicated as “${copy}”.`,
  );
}

async function remove(one: SieveRow): Promise<void> {
  await change(() => removeSieve(one.name), `“${one.name}” removed.`);
  removed.value = one;
}

async function bringBack(): Promise<void> {
  const one = removed.value;
  if (!one) return;
  await change(() => saveSieves([one]), `“${one.name}” is back.`);
  removed.value = null;
}

function write(): void {
  const text = JSON.stringify(
    own.value.map(({ name, conditions }) => ({ name, conditions })),
    null,
    2,
  );
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
  link.download = "sieves.json";
  link.click();
  URL.revokeObjectURL(link.href);
}

async function read(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = "";
  if (!file) return;
  let found: { name: string; conditions: string[] }[];
  try {
    found = JSON.parse(await file.text()) as typeof found;
  } catch {
    message.value = `${file.name} is not JSON: choose a file that was written here.`;
    return;
  }
  await change(() => saveSieves(found), `${found.length} imported from ${file.name}.`);
}
</script>

<template>
  <v-menu v-model="open" location="bottom start">
    <template #activator="{ props: opens }">
      <v-btn v-bind="opens">Sieves</v-btn>
    </template>
    <div class="sheet" role="dialog" aria-label="Sieves">
      <template
        v-for="(group, title) in { 'To start from': starting, 'Your own': own }"
        :key="title"
      >
        <h3 v-if="group.length" class="small">{{ title }}</h3>
        <ul>
          <li v-for="one in group" :key="one.name">
            <v-btn
              variant="plain"
              class="use"
              :data-tip="one.conditions.join(' · ')"
              @click="use(one)"
            >
              <span class="serif">{{ one.name }}</span>
              <span class="small">{{ one.purpose || one.conditions.join(" · ") }}</span>
            </v-btn>
            <v-btn class="small" @click="duplicate(one)">
              Duplicate<span class="unseen"> {{ one.name }}</span>
            </v-btn>
            <v-btn v-if="one.own" class="small" @click="remove(one)">
              Remove<span class="unseen"> {{ one.name }}</span>
            </v-btn>
          </li>
        </ul>
      </template>
      <form @submit.prevent="save">
        <TextField v-model="name" label="Name of the sieve" placeholder="name these conditions" />
        <v-btn type="submit" :disabled="!conditions.length || !name.trim()"> Save </v-btn>
      </form>
      <p class="acts small">
        <v-btn :disabled="!own.length" @click="write">Export as JSON</v-btn>
        <v-btn @click="picker?.click()">Import</v-btn>
        <input
          ref="picker"
          class="unseen"
          type="file"
          accept=".json,application/json"
          tabindex="-1"
          aria-label="File of sieves"
          @change="read"
        />
      </p>
      <p v-if="message" class="small" role="status">
        {{ message }}
        <v-btn v-if="removed" @click="bringBack">Bring it back</v-btn>
      </p>
    </div>
  </v-menu>
</template>

<style scoped>
.sheet {
  padding: 10px 14px 12px;
  width: 400px;
}

h3 {
  margin: 6px 0 2px;
  font-weight: 400;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  align-items: baseline;
  gap: 10px;
  border-top: 1px solid var(--rule);
}

.use {
  flex: 1;
  min-width: 0;
  padding: 4px 0;
  text-align: left;
}

.use :deep(.v-btn__content) {
  display: flex;
  flex-direction: column;
}

.use .serif {
  font-size: 15px;
}

.use .small {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

form {
  display: flex;
  gap: 10px;
  margin-top: 10px;
}

.acts {
  display: flex;
  gap: 16px;
  margin: 8px 0 0;
}

.v-btn--disabled {
  opacity: 0.5;
  cursor: default;
}
</style>
