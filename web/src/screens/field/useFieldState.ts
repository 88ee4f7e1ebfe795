import { computed, type WritableComputedRef } from "vue";
import { useRoute, useRouter } from "vue-router";
export interface UseFieldStateReturn {
  market: Readonly<WritableComputedRef<string | undefined>>;
  /** Conditions as their texts, one that is off with a leading ~. */
  conditions: WritableComputedRef<string[]>;
  near: WritableComputedRef<boolean>;
  /** The lens, as the weights that differ from the default's. */
  lens: WritableComputedRef<string>;
  sort: WritableComputedRef<string>;
  niche: WritableComputedRef<string | undefined>;
}

const listOf = (value: unknown): string[] =>
  (Array.isArray(value) ? value : [value]).filter((one): one is string => typeof one === "string");

/** What the Field shows lives in its URL; writing a part replaces the address. */
export function useFieldState(): UseFieldStateReturn {
  const route = useRoute();
  const router = useRouter();

  function part<T>(key: string, read: (texts: string[]) => T, write: (value: T) => unknown) {
    return computed({
      get: () => read(listOf(route.query[key])),
      set: (value) => {
        const written = write(value);
        const empty = written === "" || (Array.isArray(written) && written.length === 0);
        const query = { ...route.query, [key]: empty ? undefined : (written as string | string[]) };
        void router.replace({ path: route.path, query });
      },
    });
  }

  return {
    market: part("market", ([id]) => id, (id) => id ?? ""),
    conditions: part("c", (texts) => texts, (list) => list),
    near: part("near", ([text]) => text === "yes", (on) => (on ? "yes" : "")),
    lens: part("lens", ([text]) => text ?? "", (text) => text),
    sort: part("sort", ([key]) => key ?? "rank", (key) => (key === "rank" ? "" : key)),
    niche: part("niche", ([id]) => id, (id) => id ?? ""),
  }; // prettier-ignore
}
