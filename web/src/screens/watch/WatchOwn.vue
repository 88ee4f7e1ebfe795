<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { RouteLocationRaw } from "vue-router";
import { ownPartQueries } from "@/api/ownPart";
import OwnSplitCells from "@/screens/parts/OwnSplitCells.vue";
import FileLinks from "@/ui/FileLinks.vue";

/** Every niche in which one sells: whether it grew with the market, or against it. */
const props = defineProps<{ market: string; nicheOf: (id: string) => RouteLocationRaw }>();
const asked = useQuery(computed(() => ownPartQueries.all(props.market)));
const own = computed(() => asked.data.value);
const query = computed(() => new URLSearchParams({ market: props.market }).toString());
/** The block of the dossier that tells all of it. */
const partOf = (id: string): RouteLocationRaw => ({
  ...(props.nicheOf(id) as { path: string; query: Record<string, string> }),
  hash: "#own",
});
</script>

<template>
  <p v-if="asked.error.value" class="problem" role="alert">{{ asked.error.value.message }}</p>
  <template v-else-if="own">
    <p v-if="own.sentence">{{ own.sentence }}</p>
    <div
      v-if="own.rows.length"
      class="wide"
      tabindex="0"
      role="region"
      aria-label="Niches in which you sell"
    >
      <v-table density="compact">
        <thead>
          <tr>
            <th scope="col">niche</th>
            <th scope="col">your part</th>
            <th scope="col" class="number">you then</th>
            <th scope="col" class="number">now</th>
            <th scope="col" class="number">your growth</th>
            <th scope="col" class="number">season</th>
            <th scope="col" class="number">market</th>
            <th scope="col" class="number">your share</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in own.rows" :key="one.niche_id">
            <th scope="row">
              <RouterLink class="serif" :to="partOf(one.niche_id)">{{ one.name }}</RouterLink>
            </th>
            <td :title="one.sentence">
              {{ one.verdict ?? "not known" }}
              <span v-if="one.against === 'before'" class="small">on the weeks before</span>
            </td>
            <OwnSplitCells :one="one" />
          </tr>
        </tbody>
      </v-table>
    </div>
    <FileLinks
      v-if="own.rows.length"
      :address="`/api/own/part/file/?${query}`"
      :what="own.rows.length === 1 ? 'one niche' : `${own.rows.length} niches`"
    />
  </template>
</template>

<style scoped>
p {
  margin: 0 0 4px;
}

.wide {
  overflow-x: auto;
}

th[scope="row"] {
  font-weight: 400;
  text-align: left;
}

th a {
  font-size: 15px;
  color: inherit;
  text-decoration: none;
}

th a:hover {
  text-decoration: underline;
}

.problem {
  color: var(--rust);
}
</style>
