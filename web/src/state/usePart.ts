import { computed, type WritableComputedRef } from "vue";
import { useRoute, useRouter } from "vue-router";

const listOf = (value: unknown): string[] =>
  (Array.isArray(value) ? value : [value]).filter((one): one is string => typeof one === "string");

export type Part = <T>(
  key: string,
  read: (texts: string[]) => T,
  write: (value: T) => unknown,
  how?: "push" | "replace",
) => WritableComputedRef<T>;

/**
 * Parts of what a screen shows, each a parameter of its address. One that is pushed makes a new entry of the browser's
 * history, so that Back takes it back; one that is merely looked at replaces the address.
 */
export function usePart(): Part {
  const route = useRoute();
  const router = useRouter();
  return (key, read, write, how = "replace") =>
    computed({
      get: () => read(listOf(route.query[key])),
      set: (value) => {
        const written = write(value);
        const empty = written === "" || (Array.isArray(written) && written.length === 0);
        const query = { ...route.query, [key]: empty ? undefined : (written as string | string[]) };
        void router[how]({ path: route.path, query });
      },
    });
}
