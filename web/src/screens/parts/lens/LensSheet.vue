<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { type ApiError, CATEGORIES, type FigureRow, type Kind, NICHES } from "@/api/client";
import { registryQueries } from "@/api/registry";
import { deskQueries, removeLens, saveLens } from "@/api/desk";
import { BALANCE, hasBalance, type LensPart, readLens, type Weights, writeLens } from "./useLens";
import TextField from "@/ui/TextField.vue";
import SideSheet from "@/ui/SideSheet.vue";
import TrackNote from "@/screens/parts/proof/TrackNote.vue";

/** The weights behind the ranking: move one and the ledger follows. */
const props = defineProps<{
  of: Kind;
  market: string | undefined;
  parts: LensPart[];
  weights: Weights;
  figures: FigureRow[];
}>();
const emit = defineEmits<{
  set: [key: string, value: number];
  use: [weights: Weights];
  close: [];
}>();

const cache = useQueryClient();
const lenses = useQuery(computed(() => deskQueries.lenses(props.of)));
const ready = useQuery(
  computed(() =>
    registryQueries.lenses(props.of, props.of === CATEGORIES ? props.market : undefined),
  ),
);
const isUsed = (weights: Weights): boolean =>
  writeLens(weights, props.parts) === writeLens(props.weights, props.parts);
const name = ref("");
const message = ref("");
const SIDES = {
  demand: "Demand: more is better",
  competition: "Competition: less is better",
  openness: "Openness: how easily newcomers get in",
  settledness: "Settledness: how old what sells is",
};
const sides = computed(() => [...new Set(props.parts.map((part) => part.side))]);
const ABOUT = {
  headroom:
    "Headroom is demand relative to competition. Each part is a place among all niches; its weight says how much it counts within its side. The ranks follow.",
  indices:
    "Each part is a place among all categories of the market; its weight says how much it counts within its index. The default is what the settings say. The ranks follow.",
};
const changed = computed(() => writeLens(props.weights, props.parts) !== "");

/** A weight as a share of its side, which is what counts. */
function share(part: LensPart): string {
  const whole = props.parts
    .filter((one) => one.side === part.side)
    .reduce((sum, one) => sum + (props.weights[one.key] ?? 0), 0);
  return whole ? `${Math.round(((props.weights[part.key] ?? 0) / whole) * 100)}%` : "–";
}

const label = (part: LensPart): string =>
  props.figures.find((one) => one.key === part.figure)?.label ?? part.key;

/** A side needs a weight: the last one of it does not go to nothing. */
function move(part: LensPart, value: number): void {
  const others = props.parts.some(
    (one) => one.side === part.side && one.key !== part.key && (props.weights[one.key] ?? 0) > 0,
  );
  emit("set", part.key, value > 0 || others ? value : 0.01);
}

async function change(work: () => Promise<unknown>, done: string): Promise<void> {
  try {
    await work();
    message.value = done;
    await cache.invalidateQueries(deskQueries.lenses(props.of));
  } catch (error) {
    message.value = (error as ApiError).message;
  }
}

const save = (): Promise<void> =>
  change(
    () => saveLens(props.of, name.value.trim(), props.weights),
    `Saved as “${name.value.trim()}”.`,
  );
const remove = (which: string): Promise<void> =>
  change(() => removeLens(props.of, which), `“${which}” removed.`);
const usual = (): Weights => readLens("", props.parts);
</script>

<template>
  <SideSheet class="lens" title="Lens" label="Lens" :width="292" @close="$emit('close')">
    <p class="small">{{ of === CATEGORIES ? ABOUT.indices : ABOUT.headroom }}</p>
    <TrackNote v-if="market && of === NICHES && !changed" :market="market" part="launch" />
    <h3 class="small">For a purpose</h3>
    <ul class="ready" aria-label="Ready lenses">
      <li v-for="one in ready.data.value" :key="one.name">
        <v-btn :aria-pressed="isUsed(one.weights)" @click="$emit('use', one.weights)">{{
          one.name
        }}</v-btn>
        <span class="small">{{ one.purpose }}</span>
      </li>
    </ul>
    <template v-for="side in sides" :key="side">
      <h3 class="small">{{ SIDES[side] }}</h3>
      <div v-for="part in parts.filter((one) => one.side === side)" :key="part.key" class="part">
        <span
          >{{ label(part) }} <span class="small">{{ part.why }}</span></span
        >
        <output class="small">{{ share(part) }}</output>
        <v-slider
          :min="0"
          :max="1"
          :step="0.01"
          :model-value="weights[part.key] ?? 0"
          :name="`Weight of ${label(part)}`"
          @update:model-value="move(part, $event)"
        />
      </div>
    </template>
    <h3 v-if="hasBalance(parts)" class="small">Between the two</h3>
    <div v-if="hasBalance(parts)" class="part">
      <span>Demand's share of headroom</span>
      <output class="small">{{ Math.round((weights[BALANCE] ?? 0.5) * 100) }}%</output>
      <v-slider
        :min="0.05"
        :max="0.95"
        :step="0.01"
        :model-value="weights[BALANCE] ?? 0.5"
        name="Demand's share of headroom"
        @update:model-value="$emit('set', BALANCE, $event)"
      />
    </div>
    <p>
      <v-btn :disabled="!changed" @click="$emit('use', usual())"> Back to the default </v-btn>
    </p>
    <ul v-if="lenses.data.value?.length" aria-label="Your own lenses">
      <li v-for="one in lenses.data.value" :key="one.name">
        <v-btn @click="$emit('use', one.weights)">{{ one.name }}</v-btn>
        <v-btn class="small" @click="remove(one.name)">
          Remove<span class="unseen"> {{ one.name }}</span>
        </v-btn>
        <span v-if="one.purpose" class="small">{{ one.purpose }}</span>
      </li>
    </ul>
    <form @submit.prevent="save">
      <TextField v-model="name" label="Name of the lens" placeholder="name this lens" />
      <v-btn type="submit" :disabled="!changed || !name.trim()">Save</v-btn>
    </form>
    <p v-if="message" class="small" role="status">{{ message }}</p>
  </SideSheet>
</template>

<style scoped>
h3 {
  margin: 10px 0 2px;
  padding-top: 6px;
  border-top: 1px solid var(--rule);
  font-weight: 400;
}

p {
  margin: 4px 0;
}

.part {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 8px;
  margin-bottom: 4px;
  line-height: 1.25;
}

.part .v-slider {
  grid-column: 1 / -1;
}

ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}

.ready li {
  display: block;
  margin-bottom: 5px;
  line-height: 1.25;
}

.ready .small {
  display: block;
}

li,
form {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}

.v-btn--disabled {
  opacity: 0.5;
  cursor: default;
}
</style>
