import { computed, type WritableComputedRef } from "vue";
import { type Router, useRoute, useRouter } from "vue-router";

const listOf = (value: unknown): string[] =>
  (Array.isArray(value) ? value : [value]).filter((one): one is string => typeof one === "string");

export type Part = <T>(
  key: string,
  read: (texts: string[]) => T,
  write: (value: T) => unknown,
  how?: "push" | "replace",
) => WritableComputedRef<T>;

/** Where each router is on its way to, while what the other screen is made of is still coming. */
const underWay = new WeakMap<Router, { to: string | undefined }>();
function underWayIn(router: Router): { to: string | undefined } {
  const known = underWay.get(router);
  if (known) return known;
  const found: { to: string | undefined } = { to: undefined };
  router.beforeEach(({ path }) => void (found.to = path));
  router.afterEach(({ path }) => {
    if (found.to === path) found.to = undefined;
  });
  underWay.set(router, found);
  return found;
}

/**
 * Parts of what a screen shows, each a parameter of its address. One that is pushed makes a new entry of the browser's
 * history, so that Back takes it back; one that is merely looked at replaces the address.
 */
export function usePart(): Part {
  const route = useRoute();
  const router = useRouter();
  const leaving = underWayIn(router);
  return (key, read, write, how = "replace") =>
    computed({
      get: () => read(listOf(route.query[key])),
      set: (value) => {
        // What is merely looked at must not call back somebody who is leaving for another screen.
        if (how === "replace" && leaving.to !== undefined && leaving.to !== route.path) return;
        const written = write(value);
        const empty = written === "" || (Array.isArray(written) && written.length === 0);
        const query = { ...route.query, [key]: empty ? undefined : (written as string | string[]) };
        void router[how]({ path: route.path, query });
      },
    });
}
