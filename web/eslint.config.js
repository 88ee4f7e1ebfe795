import js from "@eslint/js";
import prettier from "eslint-config-prettier";
import vue from "eslint-plugin-vue";
import globals from "globals";
import ts from "typescript-eslint";

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
