import { useDebounceFn } from "@vueuse/core";
import { computed, type ComputedRef, ref, watch, type WritableComputedRef } from "vue";
import type { Schemas } from "@/api/client";

export type LensPart = Schemas["LensPart"];
export type Weights = Record<string, number>;

export const BALANCE = "balance";

/** Weights from an address, as “reviews=0.5,balance=0.6”; what it does not name is the default's. */
export function readLens(text: string, parts: LensPart[]): Weights {
  const weights: Weights = Object.fromEntries(parts.map((part) => [part.key, part.weight]));
  weights[BALANCE] = 0.5;
  for (const pair of text.split(",").filter(Boolean)) {
    const [key = "", value = ""] = pair.split("=");
    if (key in weights && Number.isFinite(Number(value))) weights[key] = Number(value);
  }
  return weights;
}

/** What differs from the default, in the order of the parts; empty for the default itself. */
export function writeLens(weights: Weights, parts: LensPart[]): string {
  const usual = readLens("", parts);
  return Object.keys(usual)
    .filter((key) => Math.abs((weights[key] ?? 0) - (usual[key] ?? 0)) > 0.0005)
    .map((key) => `${key}=${Number((weights[key] ?? 0).toFixed(3))}`)
    .join(",");
}

export interface UseLensReturn {
  weights: ComputedRef<Weights>;
  set: (key: string, value: number) => void;
  use: (weights: Weights) => void;
}

/** The weights being moved; the address follows a moment later, so that it is asked once a pause. */
export function useLens(
  address: WritableComputedRef<string>,
  parts: ComputedRef<LensPart[]>,
  pause = 140,
): UseLensReturn {
  const moving = ref<Weights | null>(null);
  const weights = computed(() => moving.value ?? readLens(address.value, parts.value));
  const settle = useDebounceFn((next: Weights): void => {
    const text = writeLens(next, parts.value);
    if (text === address.value) moving.value = null;
    else address.value = text;
  }, pause);
  watch(address, () => (moving.value = null));

  function use(next: Weights): void {
    moving.value = next;
    void settle(next);
  }
  return { weights, use, set: (key, value) => use({ ...weights.value, [key]: value }) };
}
