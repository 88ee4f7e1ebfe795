import js from "@eslint/js";
import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import { importX } from "eslint-plugin-import-x";
import prettier from "eslint-config-prettier";
import vue from "eslint-plugin-vue";
import globals from "globals";
import ts from "typescript-eslint";

// One direction of knowledge: a folder imports from those before it, and from none after it.
const CHAIN = ["api", "format", "state", "ui", "marks", "charts", "screens", "app"];
const SCREENS = [
  "across",
  "compare",
  "dossier",
  "catalogue",
  "families",
  "faults",
  "field",
  "grouping",
  "intake",
  "lists",
  "protected",
  "shortlist",
  "skim",
  "rivals",
  "terms",
];
const zones = [
  ...CHAIN.map((folder, i) => ({
    target: `./src/${folder}`,
    from: CHAIN.slice(i + 1).map((later) => `./src/${later}`),
    message: `The chain is ${CHAIN.join(" ← ")}.`,
  })),
  ...SCREENS.map((screen) => ({
    target: `./src/screens/${screen}`,
    from: SCREENS.filter((other) => other !== screen).map((other) => `./src/screens/${other}`),
    message: "What several screens share stands in screens/parts.",
  })),
  {
    target: "./src/screens/parts",
    from: SCREENS.map((screen) => `./src/screens/${screen}`),
    message: "Parts know no screen.",
  },
].filter((zone) => zone.from.length);

export default ts.config(
  { ignores: ["dist/", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...vue.configs["flat/recommended"],
  prettier,
  {
    languageOptions: { globals: globals.browser },
  },
  {
    plugins: { "import-x": importX },
    settings: {
      "import-x/resolver-next": [createTypeScriptImportResolver()],
      "import-x/parsers": { "@typescript-eslint/parser": [".ts"] },
    },
    rules: {
      "import-x/no-restricted-paths": ["error", { zones }],
      "import-x/no-cycle": "error",
      "import-x/no-unresolved": ["error", { ignore: ["^vuetify/styles", "^@fontsource"] }],
    },
  },
  {
    // Names and titles are other people's texts: nothing of them is ever taken for markup.
    rules: {
      "vue/no-v-html": "error",
      "no-restricted-properties": [
        "error",
        { property: "innerHTML", message: "Put text in as text; see charts/tip.ts." },
        { property: "outerHTML", message: "Put text in as text; see charts/tip.ts." },
        { property: "insertAdjacentHTML", message: "Put text in as text; see charts/tip.ts." },
      ],
    },
  },
  {
    files: ["**/*.vue"],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
);
