import { createRouter, createWebHistory } from "vue-router";

/** Every state of a view is in its URL, so that it can be sent. The parts of the view that is opened are announced in
 *  the page itself (api/pages.py), so that they come with the program. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", redirect: (to) => ({ path: "/field", query: to.query }) },
    { path: "/field", name: "field", component: () => import("@/screens/field/FieldScreen.vue") },
    { path: "/dossier", component: () => import("@/screens/dossier/DossierScreen.vue") },
    { path: "/skim", component: () => import("@/screens/skim/SkimScreen.vue") },
    { path: "/compare", component: () => import("@/screens/compare/CompareScreen.vue") },
    { path: "/shortlist", component: () => import("@/screens/shortlist/ShortlistScreen.vue") },
    { path: "/intake", component: () => import("@/screens/intake/IntakeScreen.vue") },
    { path: "/coverage", component: () => import("@/screens/intake/CoverageScreen.vue") },
    { path: "/faults", component: () => import("@/screens/faults/FaultsScreen.vue") },
    { path: "/brief", component: () => import("@/screens/shortlist/BriefScreen.vue") },
    { path: "/:rest(.*)*", component: () => import("@/screens/NoSuchPage.vue") },
  ],
});
