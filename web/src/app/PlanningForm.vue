<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import type { ApiError, MarketSummary } from "@/api/client";
import { choosePlanning } from "@/api/registry";
import { addDays, daysBetween, formatDay, today } from "@/format/values";
import { useNotice } from "@/state/useNotice";
import TextField from "@/ui/TextField.vue";

/** The day dates are planned from and the lead time, to change. */
const props = defineProps<{ market: MarketSummary }>();
const emit = defineEmits<{ done: [] }>();

const cache = useQueryClient();
const { notify } = useNotice();

const day = ref(props.market.planning_date);
const lead = ref(String(props.market.lead_days));
const now = today();
const busy = ref(false);
const wrong = ref("");
const days = computed(() => (/^\d{1,3}$/.test(lead.value.trim()) ? Number(lead.value) : null));
const arrival = computed(() =>
  day.value && days.value !== null ? formatDay(addDays(day.value, days.value)) : "–",
);

async function save(): Promise<void> {
  if (!day.value || days.value === null) {
    wrong.value = day.value
      ? `Lead time: expected whole days from 0 to 730; got “${lead.value}”.`
      : "Planning date: expected a day, as in 15 Jun 2026.";
    return;
  }
  busy.value = true;
  wrong.value = "";
  try {
    const { market_id, as_of } = props.market;
    const chosen = day.value === as_of ? null : day.value;
    const made = await choosePlanning({ market_id, planning_date: chosen, lead_days: days.value });
    void cache.invalidateQueries();
    notify(`Planned from ${formatDay(made.planning_date)}, on sale ${formatDay(made.arrival)}.`);
    emit("done");
  } catch (error) {
    wrong.value = (error as ApiError).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-card class="planning">
    <form @submit.prevent="save">
      <h2 class="serif">When would you order?</h2>
      <label>
        <span>planning date</span>
        <TextField v-model="day" autofocus type="date" label="Planning date" />
      </label>
      <label>
        <span>lead time, days</span>
        <TextField v-model="lead" inputmode="numeric" label="Lead time in days" />
      </label>
      <p>
        Goods would be on sale on <b>{{ arrival }}</b>. Order dates, the share of a season that is
        caught and the signals about them follow; what was read of the curves stays.
      </p>
      <p v-if="daysBetween(market.as_of, day || market.as_of) > 28" class="small">
        The figures end {{ daysBetween(market.as_of, day) }} days before that day: what happened
        since is not known.
      </p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="buttons">
        <v-btn variant="flat" type="submit" :disabled="busy">{{
          busy ? "Saving …" : "Save"
        }}</v-btn>
        <v-btn v-if="day !== now" @click="day = now">Today, {{ formatDay(now) }}</v-btn>
        <v-btn v-if="day !== market.as_of" @click="day = market.as_of">
          End of the figures, {{ formatDay(market.as_of) }}
        </v-btn>
      </div>
    </form>
  </v-card>
</template>

<style scoped>
.planning {
  max-width: 420px;
  padding: 14px 18px 16px;
}

h2 {
  margin: 0 0 6px;
  font-size: 17px;
}

label {
  display: grid;
  grid-template-columns: 130px minmax(0, 170px);
  align-items: baseline;
}

p {
  margin: 8px 0;
}

.wrong {
  color: var(--rust);
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px 18px;
}
</style>
