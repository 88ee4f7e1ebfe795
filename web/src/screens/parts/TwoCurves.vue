<script setup lang="ts">
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { type Curve, type Curved, curvesOf } from "@/api/curves";
import PairChart from "@/charts/PairChart.vue";
import SelectField from "@/ui/SelectField.vue";

/** Any two curves of one subject over one another, as they came, without their seasons or against their means. */
const props = defineProps<{
  of: Curved;
  market: string;
  id: string;
  /** As they came. */
  curves: Curve[];
  /** Weeks by which purchases trail searches, where they do. */
  lag?: number | null;
}>();

const MODES = [
  { key: "raw", label: "as they came" },
  { key: "calm", label: "season taken out" },
  { key: "indexed", label: "each against its own mean" },
] as const;

const one = ref("searches");
const other = ref("purchases");
const mode = ref<(typeof MODES)[number]["key"]>("raw");
const named = computed(() =>
  props.curves.map((curve) => ({ title: curve.label.toLowerCase(), value: curve.key })),
);
const chosen = computed(() => [one.value, ...(other.value === one.value ? [] : [other.value])]);
const calmed = useQuery(
  computed(() => ({
    ...curvesOf(props.of, props.market, props.id, chosen.value),
    enabled: mode.value === "calm" && props.curves.length > 0,
    placeholderData: keepPreviousData,
  })),
);
const shown = computed(() => (mode.value === "calm" && calmed.data.value) || props.curves);
const curveOf = (key: string): Curve | undefined => shown.value.find((c) => c.key === key);
const first = computed(() => curveOf(one.value) ?? shown.value[0]);
const second = computed(() => (other.value === one.value ? undefined : curveOf(other.value)));
/** Curves in which no season was found, which stay as they came. */
const level = computed(() =>
  mode.value === "calm"
    ? [first.value, second.value].filter((c) => c && !c.seasonal).map((c) => c?.label.toLowerCase())
    : [],
);
const trailing = computed(() =>
  mode.value !== "calm" && one.value === "searches" && other.value === "purchases"
    ? props.lag
    : null,
);
</script>

<template>
  <div v-if="first" class="choose">
    <span>Lay <SelectField v-model="one" label="The first curve" :items="named" /></span>
    <span>over <SelectField v-model="other" label="The second curve" :items="named" /></span>
    <v-radio-group v-model="mode" aria-label="How the curves are drawn">
      <v-radio v-for="{ key, label } in MODES" :key="key" :value="key" :label="label" />
    </v-radio-group>
    <span v-if="level.length" class="small">no season found in {{ level.join(" and ") }}</span>
  </div>
  <PairChart
    v-if="first"
    class="pair"
    :first="first"
    :second="second"
    :indexed="mode === 'indexed'"
    :lag="trailing"
  />
</template>

<style scoped>
.choose {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px 14px;
  margin: 0 0 4px;
}

.pair {
  height: 230px;
  margin-bottom: 12px;
}
</style>
