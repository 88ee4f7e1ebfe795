import type { Router } from "vue-router";

const KEY = "driftfield.loadedAnew";

/**
 * A page that stayed open while a newer version took the place of its own asks for parts that are no longer there: it
 * is loaded anew with the address that was wanted, once. A part that is lacking again has another reason, and says so.
 */
export function loadAnewWhenReplaced(router: Router): void {
  let wanted = "";
  router.beforeEach((to) => {
    wanted = to.fullPath;
  });
  router.afterEach((_to, _from, failure) => {
    if (!failure) sessionStorage.removeItem(KEY);
  });
  window.addEventListener("vite:preloadError", (event) => {
    const address = wanted || location.pathname + location.search;
    if (sessionStorage.getItem(KEY) === address) return;
    sessionStorage.setItem(KEY, address);
    event.preventDefault();
    location.assign(address);
  });
}
