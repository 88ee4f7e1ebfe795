import type { Router } from "vue-router";
import { useNotice } from "@/state/useNotice";

const KEY = "driftfield.loadedAnew";

/**
 * A page that stayed open while a newer version took the place of its own asks for parts that are no longer there: it
 * is loaded anew with the address that was wanted, once. A part that is lacking again has another reason, and says so;
 * one that is lacking because the page is being left calls nobody back.
 */
export function loadAnewWhenReplaced(router: Router): void {
  let wanted = "";
  let leaving = false;
  let loadingAnew = false;
  router.beforeEach((to) => {
    // What the page being left still wants to note in its address must not come between.
    if (loadingAnew) return false;
    wanted = to.fullPath;
    leaving = false;
  });
  const { notify } = useNotice();
  router.onError(() => {
    if (!leaving)
      notify(
        "This screen could not be loaded. Is Driftfield still running? Load the page again.",
        true,
      );
  });
  window.addEventListener("beforeunload", () => {
    leaving = true;
  });
  router.afterEach((_to, _from, failure) => {
    if (!failure) sessionStorage.removeItem(KEY);
  });
  window.addEventListener("vite:preloadError", (event) => {
    if (leaving) return;
    const address = wanted || location.pathname + location.search;
    if (sessionStorage.getItem(KEY) === address) return;
    sessionStorage.setItem(KEY, address);
    event.preventDefault();
    leaving = loadingAnew = true;
    location.assign(address);
  });
}
