<script setup lang="ts">
import type { ProposedNiche } from "@/api/grouping";
import { formatCount, UNKNOWN } from "@/format/values";
import TextField from "@/ui/TextField.vue";

/** Niches of a proposal: which are to hold, what they are called, and the terms that move. */
defineProps<{
  niches: ProposedNiche[];
  /** They can only be looked at. */
  fixed: boolean;
  /** Names that were written, by the niche. */
  names: Record<string, string>;
  /** Whether a niche is not to hold. */
  isLeft: (niche: string) => boolean;
}>();
defineEmits<{ toggle: [niche: string]; name: [niche: string, name: string] }>();

const terms = (many: number): string => `${formatCount(many)} ${many === 1 ? "term" : "terms"}`;
</script>

<template>
  <div class="wide">
    <v-table class="proposed wide-table">
      <thead>
        <tr>
          <th scope="col"><span class="unseen">take over</span></th>
          <th v-explain="'niche'" scope="col">niche</th>
          <th scope="col">terms that move</th>
          <th v-explain="'term'" scope="col" class="number">terms</th>
          <th v-explain:figure="'searches_52w'" scope="col" class="number">searches/yr</th>
          <th v-explain="'grouping-quality'" scope="col" class="number">quality</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in niches" :key="one.niche" :class="{ left: isLeft(one.niche) }">
          <td>
            <v-checkbox
              :model-value="!isLeft(one.niche)"
              :disabled="fixed"
              :aria-label="`Take over ${one.name}`"
              @update:model-value="$emit('toggle', one.niche)"
            />
          </td>
          <th scope="row">
            <TextField
              v-if="one.new"
              :model-value="names[one.niche] ?? one.name"
              class="name"
              :disabled="fixed"
              :label="`Name of ${one.name}`"
              @update:model-value="$emit('name', one.niche, $event)"
            />
            <span v-else class="serif">{{ one.name }}</span>
            <span class="small sub"
              >{{ one.new ? "new" : `gains ${terms(one.joining)}`
              }}{{ one.category ? ` · ${one.category}` : "" }}</span
            >
          </th>
          <td class="moving">
            <span v-for="(term, i) in one.listed" :key="term.term"
              >{{ term.term }}<span v-if="term.leaves" class="small"> (from {{ term.leaves }})</span
              >{{ i + 1 < one.listed.length ? " · " : "" }}</span
            ><span v-if="one.joining > one.listed.length" class="small">
              and {{ formatCount(one.joining - one.listed.length) }} more</span
            >
          </td>
          <td class="number">{{ formatCount(one.terms) }}</td>
          <td class="number">{{ formatCount(one.searches_52w) }}</td>
          <td class="number">
            {{ one.quality === null ? UNKNOWN : one.quality.toFixed(2)
            }}<span v-if="one.terms_by_words" class="small sub"
              >{{ terms(one.terms_by_words) }} by words</span
            >
          </td>
        </tr>
      </tbody>
    </v-table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}

.proposed {
  min-width: 760px;
}

/* In one line with the name, also where the terms beside it take several. */
td,
th {
  vertical-align: top;
}

td:has(.v-checkbox) {
  min-width: 30px;
  vertical-align: top;
}

th[scope="row"] {
  min-width: 200px;
  overflow-wrap: anywhere;
}

.name {
  min-width: 190px;
  max-width: 260px;
}

.name :deep(input) {
  padding-left: 0;
  font: 15px var(--serif);
}

.sub {
  display: block;
}

.moving {
  width: 46%;
  overflow-wrap: anywhere;
}

.left th,
.left .moving,
.left .number {
  color: var(--ink3);
}
</style>
