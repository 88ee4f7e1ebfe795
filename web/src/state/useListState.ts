import { computed, type ComputedRef, type WritableComputedRef } from "vue";
import { NICHES, TERMS } from "@/api/client";
import type { RowsQuery } from "@/api/ledger";
import type { KindWords } from "./useKind";
import { usePart } from "./usePart";
import { useSeedState } from "./useSeedState";

/** How the rows are shown. */
export type View = "ledger" | "chart";

export interface UseListStateReturn {
  market: Readonly<WritableComputedRef<string | undefined>>;
  /** Conditions as their texts, one that is off with a leading ~. */
  conditions: WritableComputedRef<string[]>;
  near: WritableComputedRef<boolean>;
  /** The lens, as the weights that differ from the default's. */
  lens: WritableComputedRef<string>;
  sort: WritableComputedRef<string>;
  /** The row that is looked at, by its id. */
  id: WritableComputedRef<string | undefined>;
  view: WritableComputedRef<View>;
  /** What the lists of the kind are asked with. */
  ask: ComputedRef<RowsQuery>;
}

/**
 * What a ledger of a kind shows lives in its URL. What is asked makes a new entry of the browser's history, so
 * that Back takes it back; what is merely looked at replaces the address.
 */
export function useListState(kind: KindWords): UseListStateReturn {
  const part = usePart();
  const ofTerms = kind.of === TERMS;
  const usual = kind.sort;
  const state = {
    market: part("market", ([id]) => id, (id) => id ?? ""),
    conditions: part("c", (texts) => texts, (list) => list, "push"),
    near: part("near", ([text]) => text === "yes", (on) => (on ? "yes" : ""), "push"),
    lens: part("lens", ([text]) => text ?? "", (text) => text),
    sort: part("sort", ([key]) => key ?? usual, (key) => (key === usual ? "" : key), "push"),
    id: part(kind.named, ([id]) => id, (id) => id ?? ""),
    view: part<View>("view", ([text]) => (text === "chart" ? text : "ledger"), (view) => (view === "chart" ? view : ""), "push"),
  }; // prettier-ignore
  const { seed } = useSeedState();
  const ask = computed<RowsQuery>(() => ({
    of: kind.of === NICHES ? undefined : kind.of,
    market: state.market.value,
    ...(ofTerms ? seed.value : {}),
    c: state.conditions.value.length ? state.conditions.value : undefined,
    near: state.near.value ? "yes" : undefined,
    lens: state.lens.value || undefined,
    sort: state.sort.value,
  }));
  return { ...state, ask };
}
