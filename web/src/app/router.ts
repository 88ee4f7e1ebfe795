import { createRouter, createWebHistory } from "vue-router";
import FieldScreen from "@/screens/field/FieldScreen.vue";

/** Every state of a view is in its URL, so that it can be sent. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", redirect: (to) => ({ path: "/field", query: to.query }) },
    // The home is part of the first load; a second round trip would only delay it.
    { path: "/field", name: "field", component: FieldScreen },
    { path: "/dossier", component: () => import("@/screens/dossier/DossierScreen.vue") },
    { path: "/skim", component: () => import("@/screens/skim/SkimScreen.vue") },
    { path: "/compare", component: () => import("@/screens/compare/CompareScreen.vue") },
    { path: "/shortlist", component: () => import("@/screens/shortlist/ShortlistScreen.vue") },
    { path: "/intake", component: () => import("@/screens/intake/IntakeScreen.vue") },
    { path: "/coverage", component: () => import("@/screens/intake/CoverageScreen.vue") },
    { path: "/brief", component: () => import("@/screens/shortlist/BriefScreen.vue") },
    { path: "/:rest(.*)*", component: () => import("@/screens/NoSuchPage.vue") },
  ],
});
