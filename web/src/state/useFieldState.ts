import { computed, type ComputedRef, type WritableComputedRef } from "vue";
import type { NicheQuery } from "@/api/ledger";
import { usePart } from "./usePart";

/** How the Field shows its niches. */
export type View = "ledger" | "chart";

export interface UseFieldStateReturn {
  market: Readonly<WritableComputedRef<string | undefined>>;
  /** Conditions as their texts, one that is off with a leading ~. */
  conditions: WritableComputedRef<string[]>;
  near: WritableComputedRef<boolean>;
  /** The lens, as the weights that differ from the default's. */
  lens: WritableComputedRef<string>;
  sort: WritableComputedRef<string>;
  niche: WritableComputedRef<string | undefined>;
  view: WritableComputedRef<View>;
  /** What the lists of niches are asked with. */
  ask: ComputedRef<NicheQuery>;
}

/**
 * What the Field shows lives in its URL. What is asked makes a new entry of the browser's history, so
 * that Back takes it back; what is merely looked at replaces the address.
 */
export function useFieldState(): UseFieldStateReturn {
  const part = usePart();
  const state = {
    market: part("market", ([id]) => id, (id) => id ?? ""),
    conditions: part("c", (texts) => texts, (list) => list, "push"),
    near: part("near", ([text]) => text === "yes", (on) => (on ? "yes" : ""), "push"),
    lens: part("lens", ([text]) => text ?? "", (text) => text),
    sort: part("sort", ([key]) => key ?? "rank", (key) => (key === "rank" ? "" : key), "push"),
    niche: part("niche", ([id]) => id, (id) => id ?? ""),
    view: part<View>("view", ([text]) => (text === "chart" ? text : "ledger"), (view) => (view === "chart" ? view : ""), "push"),
  }; // prettier-ignore
  const ask = computed<NicheQuery>(() => ({
    market: state.market.value,
    c: state.conditions.value.length ? state.conditions.value : undefined,
    near: state.near.value ? "yes" : undefined,
    lens: state.lens.value || undefined,
    sort: state.sort.value,
  }));
  return { ...state, ask };
}
