import { useQuery } from "@tanstack/vue-query";
import { computed, type ComputedRef, type Ref } from "vue";
import { deskQueries } from "@/api/desk";
import { registryQueries } from "@/api/registry";
import { writeLens } from "./useLens";

/** What the lens is called that ranks: a ready one, one of the researcher's own, or none of these. */
export function useLensName(lens: Ref<string>): ComputedRef<string> {
  const asked = computed(() => Boolean(lens.value));
  const parts = useQuery(registryQueries.parts());
  const ready = useQuery(computed(() => ({ ...registryQueries.lenses(), enabled: asked.value })));
  const own = useQuery(computed(() => ({ ...deskQueries.lenses(), enabled: asked.value })));
  return computed(() => {
    if (!lens.value) return "Default";
    const all = [...(ready.data.value ?? []), ...(own.data.value ?? [])];
    const found = all.find((one) => writeLens(one.weights, parts.data.value ?? []) === lens.value);
    return found?.name ?? "your weights";
  });
}
