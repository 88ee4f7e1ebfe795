import "vuetify/styles/core";
import "./dress.css";
import { createVuetify } from "vuetify";

/** Marks of the library's parts, as paths in a square of 24; none of its own icon fonts are shipped. */
const FRAME = "M4 4H20V20H4ZM5.5 5.5V18.5H18.5V5.5Z";
const RING = "M12 4a8 8 0 1 1 0 16a8 8 0 1 1 0-16ZM12 5.5a6.5 6.5 0 1 0 0 13a6.5 6.5 0 1 0 0-13Z";
const ICONS = {
  checkboxOff: FRAME,
  checkboxOn: `${FRAME}M7 12.2L8.4 10.8L10.8 13.2L15.6 7.6L17 9L10.9 16Z`,
  checkboxIndeterminate: `${FRAME}M7.5 11H16.5V13H7.5Z`,
  radioOff: RING,
  radioOn: `${RING}M12 8.5a3.5 3.5 0 1 1 0 7a3.5 3.5 0 1 1 0-7Z`,
  dropdown: "M6 9.5L12 15.5L18 9.5L16.9 8.4L12 13.3L7.1 8.4Z",
  clear:
    "M6.4 5L12 10.6L17.6 5L19 6.4L13.4 12L19 17.6L17.6 19L12 13.4L6.4 19L5 17.6L10.6 12L5 6.4Z",
} as const;

const aliases = Object.fromEntries(
  Object.entries(ICONS).map(([name, path]) => [name, `svg:${path}`]),
) as Record<keyof typeof ICONS, string>;

const FIELD = { variant: "underlined", density: "compact", hideDetails: "auto" } as const;

/**
 * How the library's parts look and behave everywhere: dressed here and in dress.css, and nowhere else. Its colours are
 * the design's, from tokens.css, where its parts cannot read the tokens themselves.
 */
export const vuetify = createVuetify({
  icons: { defaultSet: "svg", aliases: aliases as never },
  defaults: {
    global: { ripple: false, transition: false },
    VBtn: { variant: "text", density: "compact", size: "small" },
    VBtnToggle: { variant: "text", density: "compact", mandatory: true },
    VTextField: FIELD,
    VTextarea: { ...FIELD, rows: 1, autoGrow: true, noResize: true },
    VSelect: { ...FIELD, menuProps: { offset: 2, maxHeight: 360 } },
    VCheckbox: { density: "compact", hideDetails: true },
    VRadioGroup: { density: "compact", hideDetails: true, inline: true },
    VSlider: {
      density: "compact",
      hideDetails: true,
      thumbSize: 12,
      trackSize: 2,
      color: "primary",
    },
    VProgressLinear: { height: 6, color: "primary", rounded: false },
    VTable: { density: "compact" },
    VList: { density: "compact" },
    VMenu: { offset: 4, closeOnContentClick: false },
    VDialog: { scrim: "#10191d" },
    VTooltip: { offset: 6, maxWidth: 380 },
    VSnackbar: { timeout: 5000, location: "bottom", color: "surface" },
    VNavigationDrawer: { color: "surface", width: 292, disableRouteWatcher: true },
  },
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
