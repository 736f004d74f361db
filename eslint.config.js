import js from "@eslint/js";
import reactHooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

const wholeZod = { name: "zod", message: "Import zod/mini: the whole of zod is heavy in the browser." };
const upward = (...layers) => ({
  group: layers.flatMap((layer) => [`#${layer}/*`, `../**/${layer}/**`]),
  message: "Dependencies point one way: app → server → core.",
});
const knexOutsideDb = { group: ["knex", "pg"], message: "Only server/db speaks to the database." };

export default tseslint.config(
  {
    ignores: [
      "build/",
      ".builds/",
      ".react-router/",
      ".data/",
      ".cache/",
      "node_modules/",
      "test-results/",
      "playwright-report/",
    ],
  },
  js.configs.recommended,
  { files: ["**/*.{ts,tsx}"], extends: [tseslint.configs.recommendedTypeChecked] },
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
  { files: ["scripts/**/*.mjs", "*.js"], languageOptions: { globals: globals.node } },
  {
    files: ["**/*.{ts,tsx}"],
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-non-null-assertion": "error",
      "@typescript-eslint/consistent-type-imports": "error",
      "@typescript-eslint/only-throw-error": "off",
      "@typescript-eslint/restrict-template-expressions": [
        "error",
        { allowNumber: true, allowNullish: true },
      ],
      "@typescript-eslint/no-confusing-void-expression": "off",
      "@typescript-eslint/no-empty-object-type": ["error", { allowInterfaces: "with-single-extends" }],
      "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false } }],
    },
  },
  {
    files: ["core/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          paths: [wholeZod],
          patterns: [
            upward("server", "app", "demo", "cli"),
            knexOutsideDb,
            { group: ["node:*", "react", "react-*"], message: "core/ is plain TypeScript." },
          ],
        },
      ],
      "no-restricted-syntax": [
        "error",
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: "core/ has no clock: time comes in as an argument.",
        },
        {
          selector: "MemberExpression[object.name='Date'][property.name='now']",
          message: "core/ has no clock: time comes in as an argument.",
        },
        {
          selector: "MemberExpression[object.name='Math'][property.name='random']",
          message: "core/ is deterministic.",
        },
      ],
    },
  },
  {
    files: ["server/**/*.ts"],
    ignores: ["server/db/**", "server/live/hub.ts", "**/*.test.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        { paths: [wholeZod], patterns: [upward("app", "demo", "cli"), knexOutsideDb] },
      ],
    },
  },
  {
    files: ["server/db/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-imports": ["error", { paths: [wholeZod], patterns: [upward("app", "demo", "cli")] }],
    },
  },
  {
    files: ["app/**/*.{ts,tsx}"],
    plugins: { "react-hooks": reactHooks },
    rules: {
      ...reactHooks.configs.recommended.rules,
      "react-hooks/set-state-in-effect": "off",
      "no-restricted-imports": [
        "error",
        { paths: [wholeZod], patterns: [upward("demo", "cli"), knexOutsideDb] },
      ],
    },
  },
  {
    files: ["app/**/*.tsx"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector: "JSXAttribute[name.name='style']",
          message: "The Content-Security-Policy has no unsafe-inline: use classes.",
        },
      ],
    },
  },
  { files: ["**/*.test.ts", "e2e/**/*.ts"], rules: { "@typescript-eslint/no-unsafe-assignment": "off" } },
  {
    files: ["e2e/**/*.ts"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector: "MemberExpression[property.name='waitForTimeout']",
          message: "No fixed sleeps: wait for what is to be seen.",
        },
      ],
    },
  },
);
