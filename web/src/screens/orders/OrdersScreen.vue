<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import type { ApiError } from "@/api/client";
import { keepCash, type OrderAmongOthers, orderQueries } from "@/api/orders";
import { PLANS } from "@/api/plans";
import { formatMoney } from "@/format/money";
import { typedNumber } from "@/format/typed";
import { formatDay, formatShare } from "@/format/values";
import { monthsFrom } from "@/screens/parts/calendarAxis";
import MarketGate from "@/screens/parts/MarketGate.vue";
import { useMarket } from "@/state/useMarket";
import { useNotice } from "@/state/useNotice";
import { usePart } from "@/state/usePart";
import { useTabTitle } from "@/state/useTabTitle";
import EmptyView from "@/ui/EmptyView.vue";
import FileLinks from "@/ui/FileLinks.vue";
import TextField from "@/ui/TextField.vue";
import OrdersTable from "./OrdersTable.vue";

/** All plans of a market on one cash path: which orders fit the cash at hand, and where the year stays quiet. */
const NONE = "none";
const cache = useQueryClient();
const { market } = useMarket();
const { notify } = useNotice();
const part = usePart();
const taken = part<string>(
  "with",
  ([text]) => text ?? "",
  (keys) => keys,
);
useTabTitle("Orders");

const asked = useQuery(
  computed(() => ({
    ...orderQueries.all(market.value?.market_id ?? "", taken.value),
    enabled: Boolean(market.value),
    placeholderData: keepPreviousData,
  })),
);
const orders = computed(() => asked.data.value);
const axis = computed(() => monthsFrom(orders.value?.today ?? "2000-01-01"));

const planOf = (plan: OrderAmongOthers) => ({
  path: "/plan",
  query: { market: market.value?.market_id ?? "", niche: plan.niche_id, plan: plan.key },
});
const dossierOf = (niche: string) => ({
  path: "/dossier",
  query: { market: market.value?.market_id ?? "", niche },
});

function take(key: string, now: boolean): void {
  const others = (orders.value?.plans ?? []).filter((one) => one.taken && !one.placed);
  const keys = others.map((one) => one.key).filter((one) => one !== key);
  taken.value = [...keys, ...(now ? [key] : [])].join(",") || NONE;
}

/** What is typed, until it is kept. */
const cash = ref("");
const loss = ref("");
watch(
  orders,
  (now, before) => {
    if (!now || (before && before.cash_at_hand === now.cash_at_hand && before.most_loss === now.most_loss)) return; // prettier-ignore
    cash.value = now.cash_at_hand === null ? "" : String(now.cash_at_hand);
    loss.value = now.most_loss === null ? "" : String(Number((now.most_loss * 100).toPrecision(6)));
  },
  { immediate: true },
);
const amountOf = (text: string): number | null | undefined => {
  if (!text.trim()) return null;
  const found = typedNumber(text);
  return found !== undefined && found >= 0 ? found : undefined;
};
const wanted = computed(() => ({ cash: amountOf(cash.value), loss: amountOf(loss.value) }));
const changed = computed(
  () =>
    wanted.value.cash !== (orders.value?.cash_at_hand ?? null) ||
    (wanted.value.loss ?? null) !==
      (orders.value?.most_loss == null ? null : Number((orders.value.most_loss * 100).toPrecision(6))), // prettier-ignore
);
const wrong = computed(() => wanted.value.cash === undefined || wanted.value.loss === undefined);

async function keep(): Promise<void> {
  if (!market.value || wrong.value || !changed.value) return;
  const { cash: amount, loss: most } = wanted.value;
  try {
    await keepCash({
      market_id: market.value.market_id,
      cash: amount ?? null,
      most_loss: most == null ? null : most / 100,
    });
    taken.value = "";
    await cache.invalidateQueries({ queryKey: [...PLANS, "orders"] });
  } catch (error) {
    notify(`Not kept: ${(error as ApiError).message}`, true);
  }
}
const print = (): void => window.print();
const files = computed(() => {
  const query = new URLSearchParams({ market: market.value?.market_id ?? "" });
  if (taken.value) query.set("with", taken.value);
  return `/api/desk/orders/file/?${query.toString()}`;
});
</script>

<template>
  <div class="orders">
    <MarketGate
      :pending="!orders"
      :failure="orders ? null : asked.error.value"
      @retry="asked.refetch()"
    >
      <template v-if="orders">
        <section class="said" aria-label="What they do together">
          <h1 v-explain="'orders'" class="serif">Orders</h1>
          <p class="serif" role="status">
            {{ orders.plans.length ? orders.sentences.join(" ") : "" }}
          </p>
        </section>
        <EmptyView
          v-if="!orders.plans.length"
          title="No plan is kept yet"
          text="A plan of an order is made on the almanac, or from a niche’s dossier under “Does it pay?”. What is kept there stands here on one cash path."
        />
        <template v-else>
          <form class="acts" @submit.prevent="keep">
            <label
              >cash at hand on {{ formatDay(orders.today) }}
              <TextField
                v-model="cash"
                class="typed"
                label="Cash at hand"
                inputmode="decimal"
                :error="wanted.cash === undefined"
                placeholder="not known"
                @blur="keep"
            /></label>
            <label
              >chance of a loss up to, %
              <TextField
                v-model="loss"
                class="typed short"
                label="Chance of a loss up to, in percent"
                inputmode="decimal"
                :error="wanted.loss === undefined"
                placeholder="any"
                @blur="keep"
            /></label>
            <v-btn type="submit" :disabled="wrong || !changed">Propose</v-btn>
            <span v-if="wrong" class="problem small" role="alert">expected numbers from 0</span>
            <v-btn v-if="taken" @click="taken = ''">Back to what is proposed</v-btn>
            <span class="grow" />
            <FileLinks :address="files" what="plans" />
            <v-btn @click="print">Print</v-btn>
          </form>
          <p v-if="asked.error.value" class="problem" role="alert">
            {{ asked.error.value.message }}
          </p>
          <p v-if="orders.more" class="small note">
            The latest 60 plans stand here; drop those that are done with.
          </p>
          <OrdersTable :orders="orders" :axis="axis" :plan-of="planOf" @take="take" />
          <p class="small note">
            Proposed is what earns most on average and fits, with the balance that nine draws in ten
            of each plan exceed; of a niche one at a time. What is returned and leftovers are in the
            figures; orders to follow are not.
          </p>
          <section v-if="orders.fills.length" class="fills">
            <h2 class="serif">
              <span v-explain="'quiet-months'">Niches whose season fills the quiet months</span>
            </h2>
            <ul>
              <li v-for="one in orders.fills" :key="one.niche_id">
                <RouterLink class="serif" :to="dossierOf(one.niche_id)">{{ one.niche }}</RouterLink>
                <span class="small"
                  ><b v-if="one.decision">{{ one.decision === "keep" ? "kept" : "parked" }} · </b
                  >{{ formatShare(one.share) }} of its year, an even one
                  {{ formatShare(one.even) }} · leaves {{ formatMoney(one.left_a_unit) }} a unit, in
                  these months {{ formatMoney(one.leaves) }} all listings together</span
                >
              </li>
            </ul>
            <p class="small">
              Sorted by what these units would leave. Costs nobody gave are assumed: see the niche’s
              dossier.
            </p>
          </section>
        </template>
      </template>
    </MarketGate>
  </div>
</template>

<style scoped>
.orders {
  height: 100%;
  overflow-y: auto;
  scrollbar-width: thin;
}

.said {
  display: flex;
  gap: 26px;
  align-items: baseline;
  padding: 8px var(--gutter) 6px;
  background: var(--page);
}

h1 {
  margin: 0;
  font-size: 19px;
}

.said p {
  max-width: 1100px;
  margin: 0;
  font-size: 15px;
  line-height: 1.35;
  color: var(--ink2);
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: baseline;
  padding: 6px var(--gutter);
  border-bottom: 1px solid var(--rule);
}

.acts label {
  display: inline-flex;
  gap: 8px;
  align-items: baseline;
}

.typed {
  width: 96px;
}

.typed.short {
  width: 56px;
}

.grow {
  flex: 1;
}

.problem {
  color: var(--rust);
}

.note,
p.problem {
  margin: 0;
  padding: 6px var(--gutter);
}

.fills {
  padding: 4px var(--gutter) 20px;
}

h2 {
  margin: 6px 0 2px;
  font-size: 15px;
}

ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 420px), 1fr));
  gap: 4px 28px;
  margin: 0;
  padding: 0;
  list-style: none;
}

li a {
  display: block;
  font-size: 15px;
  color: inherit;
}

@media (max-width: 760px) {
  .said {
    display: block;
  }
}

@media (max-height: 540px), (max-width: 760px) {
  .orders {
    height: auto;
  }
}

@media print {
  .orders {
    height: auto;
    overflow: visible;
  }

  .acts {
    display: none;
  }
}
</style>
