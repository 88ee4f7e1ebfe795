<script setup lang="ts">
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { intakeQueries, setFeed } from "@/api/intake";
import { formatDay, formatTime } from "@/format/values";
import { useNotice } from "@/state/useNotice";

/** The market feed: when it was asked, how often it is, and asking it now. */
defineProps<{ busy: boolean }>();
defineEmits<{ pull: [] }>();

type Hours = Schemas["FeedWantedRequest"]["every_hours"];
const OFTEN: { hours: Hours; says: string }[] = [
  { hours: 0, says: "never by itself" },
  { hours: 1, says: "every hour" },
  { hours: 6, says: "every 6 hours" },
  { hours: 24, says: "every day" },
  { hours: 168, says: "every week" },
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

async function choose(event: Event): Promise<void> {
  const hours = Number((event.target as HTMLSelectElement).value) as Hours;
  try {
    cache.setQueryData(intakeQueries.feed().queryKey, await setFeed(hours));
  } catch (error) {
    notify((error as ApiError).message);
    await feed.refetch();
  }
}
const moment = (text: string): string => `${formatDay(text.slice(0, 10))}, ${formatTime(text)}`;
</script>

<template>
  <p v-if="feed.data.value?.address">
    <button class="word-button" :disabled="busy" @click="$emit('pull')">Pull what is new</button>
    from the market feed at {{ feed.data.value.address.replace(/^https?:\/\//, "") }},
    {{ asked ? `last asked ${moment(asked)};` : "never asked so far;" }}
    <label>
      it is asked
      <select :value="feed.data.value.every_hours" @change="choose">
        <option v-for="{ hours, says } in OFTEN" :key="hours" :value="hours">{{ says }}</option>
      </select></label
    ><template v-if="feed.data.value.next_at">, next {{ moment(feed.data.value.next_at) }}</template
    >.
  </p>
</template>
