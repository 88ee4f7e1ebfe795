import { createRouter, createWebHistory } from "vue-router";
import FieldScreen from "@/screens/field/FieldScreen.vue";

/** Every state of a view is in its URL, so that it can be sent. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", redirect: (to) => ({ path: "/field", query: to.query }) },
    // The home is part of the first load; a second round trip would only delay it.
    { path: "/field", name: "field", component: FieldScreen },
    { path: "/:rest(.*)*", component: () => import("@/screens/NoSuchPage.vue") },
  ],
});
