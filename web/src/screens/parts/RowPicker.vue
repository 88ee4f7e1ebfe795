<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, onMounted, ref } from "vue";
import { type Kind, NICHES } from "@/api/client";
import { ledgerQueries } from "@/api/ledger";
import { formatCount } from "@/format/values";
import OptionList from "@/ui/OptionList.vue";
import TextField from "@/ui/TextField.vue";
import { KINDS } from "@/state/useKind";
import { useListbox } from "@/ui/useListbox";

/** A field in which a row of a market is found by its name: a niche, where nothing else is said. */
const props = defineProps<{
  market: string;
  label: string;
  /** One that is not offered. */
  besides?: string;
  of?: Kind;
}>();
const emit = defineEmits<{ choose: [row: { id: string; name: string }]; cancel: [] }>();

const kind = computed(() => KINDS[props.of ?? NICHES]);
const text = ref("");
const field = ref<InstanceType<typeof TextField> | null>(null);
const found = useQuery(
  computed(() => ledgerQueries.found(props.market, text.value, kind.value.of)),
);
const options = computed(() =>
  text.value.trim().length < 2
    ? []
    : (found.data.value?.rows ?? [])
        .filter((row) => row.id !== props.besides)
        .slice(0, 8)
        .map((row) => ({
          id: row.id,
          label: row.name,
          hint: `${formatCount(row.searches_52w)} searches a year`,
        })),
);
const { marked, move, combobox, optionId } = useListbox(
  "rows-found",
  () => options.value.length,
  () => options.value.length > 0,
);

function take(one: { id: string; label: string } | undefined): void {
  if (one) emit("choose", { id: one.id, name: one.label });
}

onMounted(() => void nextTick(() => field.value?.focus()));
</script>

<template>
  <div class="picker">
    <TextField
      ref="field"
      v-model="text"
      v-bind="combobox"
      :label="label"
      :placeholder="`name of a ${kind.one}`"
      spellcheck="false"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="take(options[Math.max(0, marked)])"
      @keydown.esc.stop.prevent="emit('cancel')"
    />
    <OptionList
      v-if="options.length"
      id="rows-found"
      class="options"
      :label="`Found ${kind.many}`"
      :options="options"
      :marked="marked"
      :option-id="optionId"
      @take="take"
    />
    <p v-else-if="text.trim().length > 1 && found.isSuccess.value" class="options small none">
      No niche is called that.
    </p>
  </div>
</template>

<style scoped>
.picker {
  position: relative;
  flex: 0 1 260px;
  min-width: 200px;
}

.options {
  position: absolute;
  z-index: 30;
  top: 100%;
  left: 0;
  width: min(360px, 90vw);
  background: var(--page);
  border: 1px solid var(--rule);
  box-shadow: 0 6px 18px rgb(0 0 0 / 18%);
}

.none {
  margin: 0;
  padding: 8px 12px;
}
</style>
