import { createRouter, createWebHistory, type RouteComponent } from "vue-router";
import { keepOnTheWay } from "./onTheWay";
import views from "./views.json";

const screens = import.meta.glob<{ default: RouteComponent }>("../screens/*/*Screen.vue");

/** Every state of a view is in its URL, so that it can be sent. The views stand in views.json, which goes with the build:
 *  from it the server announces in the page itself what the view that is opened is made of and asks for first. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", redirect: (to) => ({ path: "/field", query: to.query }) },
    ...views.map(({ path, screen, imported }) => {
      const component = screens[`../screens/${screen}`];
      if (!component) throw new Error(`There is no screen ${screen}.`);
      return { path, component, meta: { imported } };
    }),
    { path: "/:rest(.*)*", component: () => import("@/screens/NoSuchPage.vue") },
  ],
});
keepOnTheWay(router);
