<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { ref, watch } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { saveFees } from "@/api/desk";
import { COSTS } from "@/api/niche";
import { useNotice } from "@/state/useNotice";
import TextField from "@/ui/TextField.vue";

type UnitEconomics = NonNullable<Schemas["Profitability"]["paying"]>;

/** The market's handling fees by size class, which hold for every niche of it. */
const props = defineProps<{ market: string; classes: UnitEconomics["classes"] }>();

const cache = useQueryClient();
const { notify } = useNotice();

const fees = ref<{ name: string; upto_g: string; upto_mm: string; fee: string }[]>([]);
watch(
  () => props.classes,
  (classes) => {
    fees.value = classes.map((one) => ({
      name: one.name,
      upto_g: one.upto_g === null ? "" : String(one.upto_g),
      upto_mm: one.upto_mm === null ? "" : String(one.upto_mm),
      fee: String(one.fee),
    }));
  },
  { immediate: true },
);

async function keepFees(): Promise<void> {
  const limit = (entry: string): number | null => (entry.trim() ? Number(entry) : null);
  try {
    await saveFees({
      market_id: props.market,
      classes: fees.value.map((one) => ({
        name: one.name,
        upto_g: limit(one.upto_g),
        upto_mm: limit(one.upto_mm),
        fee: Number(one.fee),
      })),
    });
    await cache.invalidateQueries({ queryKey: COSTS });
    notify("Fees kept for this market.");
  } catch (error) {
    notify(`Not kept: ${(error as ApiError).message}`, true);
  }
}
</script>

<template>
  <details class="fees">
    <summary>Handling fees of this market by size class</summary>
    <v-table>
      <thead>
        <tr>
          <th v-explain="'size-class'" scope="col">class</th>
          <th v-explain="'class-weight'" scope="col">up to g</th>
          <th v-explain="'class-size'" scope="col">up to mm</th>
          <th v-explain="'class-fee'" scope="col">fee</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, i) in fees" :key="i">
          <td><TextField v-model="one.name" :label="`Name of class ${i + 1}`" /></td>
          <td>
            <TextField
              v-model="one.upto_g"
              :label="`Weight limit of class ${i + 1}`"
              placeholder="any"
            />
          </td>
          <td>
            <TextField
              v-model="one.upto_mm"
              :label="`Length limit of class ${i + 1}`"
              placeholder="any"
            />
          </td>
          <td><TextField v-model="one.fee" :label="`Fee of class ${i + 1}`" /></td>
        </tr>
      </tbody>
    </v-table>
    <p class="acts">
      <v-btn @click="fees.push({ name: '', upto_g: '', upto_mm: '', fee: '' })">
        Add a class
      </v-btn>
      <v-btn :disabled="fees.length < 2" @click="fees.pop()"> Take the last away </v-btn>
      <v-btn @click="keepFees">Keep the fees</v-btn>
    </p>
    <p class="small">
      The fees that come with Driftfield are examples, no marketplace’s; put the real ones in their
      place.
    </p>
  </details>
</template>

<style scoped>
.fees {
  max-width: 560px;
}

summary {
  cursor: pointer;
  padding: 4px 0;
  color: var(--q5);
}

.acts {
  display: flex;
  gap: 16px;
}
</style>
