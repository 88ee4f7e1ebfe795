import vue from "@vitejs/plugin-vue";
import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { defineConfig, type Plugin } from "vite";
import vuetify from "vite-plugin-vuetify";

/** The table of views beside the build, for the server to announce what each is made of (api/pages.py). */
const views: Plugin = {
  name: "views",
  generateBundle() {
    const source = readFileSync(new URL("./src/app/views.json", import.meta.url), "utf-8");
    this.emitFile({ type: "asset", fileName: "views.json", source });
  },
};

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true }), views],
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  // The manifest tells the server which parts a view asks for first. Only woff2: every browser this runs in reads it, and the older format doubles the build.
  build: {
    manifest: "manifest.json",
    target: "es2022",
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
    // A file more costs more at the start than what it spares: what all views share comes in one part, what draws
    // charts in another; what sorts rows by hand or offers something to choose stays with those who do.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: "charts", test: /[\\/](echarts|zrender|tslib)[\\/]/, priority: 2 },
            {
              name: "shared",
              test: /[\\/](vue|@vue|vue-router|query-core|vue-query|openapi-fetch)[\\/]|ssrBoot|[\\/]src[\\/]((api|format|marks|state|ui)[\\/](?!useHandOrder|OptionList|SelectField)|screens[\\/]parts[\\/](MarketGate|NothingLoaded))/,
              priority: 1,
            },
          ],
        },
      },
    },
  },
  // The host stays the page's own, since the server refuses what comes from another origin.
  server: { proxy: { "/api": { target: "http://127.0.0.1:8000", changeOrigin: false } } },
});
