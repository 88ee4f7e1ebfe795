import { useQuery } from "@tanstack/vue-query";
import { useDebounceFn } from "@vueuse/core";
import {
  computed,
  type ComputedRef,
  type MaybeRefOrGetter,
  ref,
  toValue,
  watch,
  type WritableComputedRef,
} from "vue";
import { CATEGORIES, type Kind, type Schemas } from "@/api/client";
import { deskQueries } from "@/api/desk";
import { registryQueries } from "@/api/registry";

export type LensPart = Schemas["LensPart"];
export type Weights = Record<string, number>;

export const BALANCE = "balance";

/** Whether what is weighed has two sides that are weighed against one another: headroom alone. */
export const hasBalance = (parts: LensPart[]): boolean =>
  parts.some((part) => part.side === "demand");

/** Weights from an address, as “reviews=0.5,balance=0.6”; what it does not name is the default's. */
export function readLens(text: string, parts: LensPart[]): Weights {
  const weights: Weights = Object.fromEntries(parts.map((part) => [part.key, part.weight]));
  if (hasBalance(parts)) weights[BALANCE] = 0.5;
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
  parts: ComputedRef<LensPart[]>;
  weights: ComputedRef<Weights>;
  /** What the lens is called: a ready one, one of the researcher's own, or none of these. */
  name: ComputedRef<string>;
  set: (key: string, value: number) => void;
  use: (weights: Weights) => void;
}

/** The lens of a kind; the address follows a moment after its weights, so that it is asked once a pause. */
export function useLens(
  of: Kind,
  market: MaybeRefOrGetter<string | undefined>,
  address: WritableComputedRef<string>,
  pause = 140,
): UseLensReturn {
  // Niches are weighed alike in every market, categories as the settings of theirs say.
  const place = computed(() => (of === CATEGORIES ? toValue(market) : undefined));
  const known = computed(() => of !== CATEGORIES || Boolean(place.value));
  const asked = useQuery(
    computed(() => ({ ...registryQueries.parts(of, place.value), enabled: known.value })),
  );
  const parts = computed(() => asked.data.value ?? []);
  const enabled = computed(() => Boolean(address.value) && known.value);
  const ready = useQuery(
    computed(() => ({ ...registryQueries.lenses(of, place.value), enabled: enabled.value })),
  );
  const own = useQuery(computed(() => ({ ...deskQueries.lenses(of), enabled: enabled.value })));
  const name = computed(() => {
    if (!address.value) return "Default";
    const all = [...(ready.data.value ?? []), ...(own.data.value ?? [])];
    return (
      all.find((one) => writeLens(one.weights, parts.value) === address.value)?.name ??
      "your weights"
    );
  });

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
  const set = (key: string, value: number): void => use({ ...weights.value, [key]: value });
  return { parts, weights, name, set, use };
}
