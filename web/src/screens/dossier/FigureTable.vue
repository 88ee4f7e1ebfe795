<script setup lang="ts">
import { computed } from "vue";
import type { FigureRow, NichePreview } from "@/api/client";
import { formatFigure, shownUnit } from "@/format/figure";

/** Some figures of the niche, each a way into its working. */
const props = defineProps<{ niche: NichePreview; figures: FigureRow[]; keys: string[] }>();
defineEmits<{ working: [figure: string] }>();

const valueOf = (figure: FigureRow): unknown =>
  props.niche.figures[figure.column as keyof NichePreview["figures"]];

/** Tables that brought nothing at all for this niche; where they brought something, more rows of them
 *  might not help, so nothing is said. */
const absent = computed(() => {
  const brought = new Map<string, boolean>();
  for (const figure of props.figures) {
    const value = valueOf(figure);
    const known = value !== null && value !== undefined && typeof value !== "boolean";
    brought.set(figure.needs, (brought.get(figure.needs) ?? false) || known);
  }
  return new Set([...brought].filter(([, known]) => !known).map(([needs]) => needs));
});

const rows = computed(() =>
  props.keys
    .map((key) => props.figures.find((one) => one.key === key))
    .filter((figure) => figure !== undefined)
    .map((figure) => ({
      figure,
      text: formatFigure(figure, valueOf(figure)),
      lacks: absent.value.has(figure.needs) ? figure.needs : "",
    })),
);
</script>

<template>
  <v-table>
    <tbody>
      <tr v-for="{ figure, text, lacks } in rows" :key="figure.key">
        <th scope="row">
          {{ figure.label }} <span class="small">{{ shownUnit(figure.unit, figure.label) }}</span>
        </th>
        <td>
          <v-btn
            variant="plain"
            class="number-button"
            :data-tip="`${figure.formula}. Click for the working.`"
            @click="$emit('working', figure.key)"
          >
            {{ text }}
          </v-btn>
        </td>
        <td v-if="lacks" class="small">import {{ lacks }} to see it</td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.v-table :deep(table) {
  align-self: start;
}
</style>
