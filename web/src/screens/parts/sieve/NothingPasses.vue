<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { ledgerQueries, type LedgerQuery } from "@/api/ledger";
import { formatCount } from "@/format/values";
import { useShortcuts } from "@/state/useShortcuts";
import EmptyView from "@/ui/EmptyView.vue";
import type { ConditionRow } from "@/screens/parts/ledger/useLedger";
import { howMany, useKind } from "@/state/useKind";

/** Why nothing passes, which ones nearly do, and the steps that let some through. */
const props = defineProps<{
  ask: LedgerQuery;
  conditions: ConditionRow[];
  blocked: Schemas["BlockedRow"] | null;
}>();
const emit = defineEmits<{ change: [conditions: string[]]; near: [] }>();
const kind = useKind();

const SHOWN = 5;
const near = useQuery(computed(() => ledgerQueries.page({ ...props.ask, near: "yes" }, 0)));
const missing = computed(() => near.data.value?.rows.slice(0, SHOWN) ?? []);
const nameOf = (place: number): string => `“${props.conditions[place]?.sentence ?? ""}”`;

const why = computed(() => {
  const found = props.blocked;
  if (!found) return `No ${kind.one} meets all of the conditions above.`;
  const none = found.alone.findIndex((many) => many === 0);
  if (none >= 0) return `No ${kind.one} meets ${nameOf(none)}.`;
  if (found.pair) {
    const [one = 0, other = 0] = found.pair;
    return (
      `${nameOf(one)} and ${nameOf(other)} exclude each other: ${howMany(kind, found.alone[one] ?? 0)} ` +
      `meet the first, ${formatCount(found.alone[other] ?? 0)} the second, none both.`
    );
  }
  return "No two conditions exclude each other; three or more do so together.";
});

const ways = computed(() =>
  (props.blocked?.ways ?? []).slice(0, SHOWN).map((way) => ({
    ...way,
    label: way.sentence ?? `Without ${nameOf(way.place)}`,
  })),
);

function loosen(way: Schemas["WayRow"] | undefined): void {
  if (!way) return;
  const texts = props.conditions.map((one) => one.text);
  texts[way.place] = way.text ?? `~${texts[way.place]}`;
  emit("change", texts);
}

useShortcuts([
  {
    keys: ["o"],
    does: "Loosen a condition so that something passes",
    run: () => loosen(props.blocked?.ways[0]),
  },
]);
</script>

<template>
  <EmptyView :title="`No ${kind.one} passes`" :text="why">
    <ul v-if="ways.length" class="ways" aria-label="Ways to let some pass">
      <li v-for="(way, i) in ways" :key="i">
        <v-btn @click="loosen(way)">{{ way.label }}</v-btn>
        <span class="small">
          {{ howMany(kind, way.passes) }} then {{ way.passes === 1 ? "passes" : "pass" }}
          <kbd v-if="i === 0">o</kbd>
        </span>
      </li>
    </ul>
    <p v-else>No single condition is to blame: change or switch off two of them.</p>
    <section v-if="missing.length" class="near" aria-label="Near misses">
      <p class="small">Nearly pass, missing one condition by a tenth at most:</p>
      <ul>
        <li v-for="row in missing" :key="row.id">
          <b class="serif">{{ row.name }}</b>
          <span class="small">{{ nameOf(row.misses ?? 0) }}</span>
        </li>
      </ul>
      <v-btn @click="$emit('near')">Show all near misses in the ledger</v-btn>
    </section>
  </EmptyView>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

.ways li,
.near li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: baseline;
  padding: 3px 0;
}

.near {
  margin-top: 14px;
}
</style>
