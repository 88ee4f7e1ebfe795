import "vuetify/styles/core";
import { createVuetify } from "vuetify";

/** The library's own colours, mapped on ours where its parts cannot read the tokens. */
export const vuetify = createVuetify({
  defaults: { global: { ripple: false } },
  theme: {
    defaultTheme: "day",
    themes: {
      day: {
        dark: false,
        colors: { background: "#f5f1e8", surface: "#fbf9f3", primary: "#1f6b70", error: "#a8502a" },
      },
      night: {
        dark: true,
        colors: { background: "#10191d", surface: "#152125", primary: "#7cc6c0", error: "#e08a63" },
      },
    },
  },
});
