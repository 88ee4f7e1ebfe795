import "@/app/preload";
import "@fontsource/ibm-plex-sans-condensed/latin-400.css";
import "@fontsource/ibm-plex-sans/latin-400.css";
import "@fontsource/ibm-plex-sans/latin-600.css";
import "@fontsource/source-serif-4/latin-400.css";
import "@fontsource/source-serif-4/latin-600.css";
import "@/ui/tokens.css";
import "@/ui/base.css";

import { VueQueryPlugin } from "@tanstack/vue-query";
import { createApp } from "vue";
import App from "@/app/App.vue";
import { queryOptions } from "@/api/cache";
import { loadAnewWhenReplaced } from "@/app/replaced";
import { router } from "@/app/router";
import { explain } from "@/ui/explain";
import { vuetify } from "@/ui/vuetify";

loadAnewWhenReplaced(router);
createApp(App)
  .directive("explain", explain)
  .use(router)
  .use(vuetify)
  .use(VueQueryPlugin, queryOptions)
  .mount("#app");
