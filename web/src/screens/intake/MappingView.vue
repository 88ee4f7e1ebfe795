<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import type { Mapping } from "@/api/intake";
import { useTakeFocus } from "@/ui/useTakeFocus";
import LayoutMapping from "./LayoutMapping.vue";
import type { LayoutState } from "./useMappings";
import SelectField from "@/ui/SelectField.vue";

/** How files that are no exchange tables are to be read: a part for each layout, before they are checked. */
const props = defineProps<{
  name: string;
  layouts: LayoutState[];
  unread: string[];
  tables: Schemas["TableRow"][];
  ready: boolean;
  markets: Schemas["MarketSummary"][];
}>();
const market = defineModel<string>("market", { required: true });
const emit = defineEmits<{
  change: [one: LayoutState, part: Partial<Mapping>];
  check: [];
  leave: [];
}>();

const heading = ref<HTMLElement | null>(null);
useTakeFocus(heading);

const choices = computed(() => [
  { title: "none: they are refused", value: "" },
  ...props.markets.map((one) => ({ title: one.name, value: one.market_id })),
]);

/** Exchange tables as they stand are named only; one of them can be read another way all the same. */
const opened = ref<string[]>([]);
const single = computed(() => props.layouts.flatMap((layout) => layout.row.files).length === 1);
/** What is opened is read by its mapping from now on, whether or not a word of it is changed. */
function open(layout: LayoutState): void {
  opened.value.push(layout.row.key);
  emit("change", layout, {});
}
const asked = computed(() =>
  props.layouts.filter(({ used, row }) => used || opened.value.includes(row.key)),
);
const asTheyStand = computed(() => props.layouts.filter((layout) => !asked.value.includes(layout)));
</script>

<template>
  <section class="agreement" aria-label="How these files are read">
    <header>
      <h2 ref="heading" tabindex="-1" class="serif">
        How {{ name }} {{ single ? "is" : "are" }} read
      </h2>
      <v-btn variant="flat" :disabled="!ready" @click="$emit('check')"
        >Check with this mapping</v-btn
      >
      <v-btn @click="$emit('leave')">Cancel</v-btn>
    </header>
    <p v-if="markets.length > 1">
      New niches that name no market are of
      <SelectField
        v-model="market"
        label="New niches that name no market are of"
        :items="choices"
      />
    </p>
    <p v-if="asTheyStand.length" class="small">
      Exchange tables as they stand:
      <template v-for="(layout, i) in asTheyStand" :key="layout.row.key"
        ><template v-if="i">, </template
        ><v-btn @click="open(layout)">
          {{ layout.row.files.join(", ") }}
        </v-btn></template
      >.
    </p>
    <p v-if="unread.length" class="small">No tables: {{ unread.join(", ") }}.</p>
    <LayoutMapping
      v-for="layout in asked"
      :key="layout.row.key"
      :layout="layout"
      :tables="tables"
      @change="$emit('change', layout, $event)"
    />
  </section>
</template>

<style scoped>
.agreement {
  padding: 14px var(--gutter) 18px;
  border-bottom: 1px solid var(--rule);
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px 18px;
}

h2 {
  outline: none;
  font-size: 18px;
  margin: 0 0 4px;
  overflow-wrap: anywhere;
}

p {
  margin: 0 0 6px;
}
</style>
