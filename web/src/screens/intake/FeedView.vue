<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { intakeQueries, setFeed } from "@/api/intake";
import { formatMoment } from "@/format/values";
import SelectField from "@/ui/SelectField.vue";
import { useNotice } from "@/state/useNotice";

/** The market feed: when it was asked, how often it is, and asking it now. */
defineProps<{ busy: boolean }>();
defineEmits<{ pull: [] }>();

type Hours = Schemas["FeedWantedRequest"]["every_hours"];
const OFTEN: { value: Hours; title: string }[] = [
  { value: 0, title: "off" },
  { value: 1, title: "every hour" },
  { value: 6, title: "every 6 hours" },
  { value: 24, title: "every day" },
  { value: 168, title: "every week" },
];
const feed = useQuery(intakeQueries.feed());
const cache = useQueryClient();
const { notify } = useNotice();
const asked = computed(() =>
  (feed.data.value?.markets ?? [])
    .map((one) => one.asked_at ?? "")
    .sort()
    .at(-1),
);

async function choose(hours: Hours): Promise<void> {
  try {
    cache.setQueryData(intakeQueries.feed().queryKey, await setFeed(hours));
  } catch (error) {
    notify((error as ApiError).message);
    await feed.refetch();
  }
}
</script>

<template>
  <p v-if="feed.data.value?.address">
    <v-btn :disabled="busy" @click="$emit('pull')">Pull what is new</v-btn>
    from the market feed at {{ feed.data.value.address.replace(/^https?:\/\//, "") }},
    {{ asked ? `(last pulled ${formatMoment(asked)}).` : "(not pulled yet)." }}
    Automatic pull:
    <SelectField
      label="Automatic pull"
      :model-value="feed.data.value.every_hours"
      :items="OFTEN"
      @update:model-value="choose"
    /><template v-if="feed.data.value.next_at"
      >, next {{ formatMoment(feed.data.value.next_at) }}</template
    >.
  </p>
</template>
