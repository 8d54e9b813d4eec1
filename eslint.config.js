import eslint from "@eslint/js";
import reactHooks from "eslint-plugin-react-hooks";
import regexp from "eslint-plugin-regexp";
import tseslint from "typescript-eslint";

const noWildcards = [
  { selector: "ExportAllDeclaration", message: "Name what is exported." },
  { selector: "TSEnumDeclaration", message: "Use a union of string literals." },
  { selector: "ExportDefaultDeclaration", message: "Export by name." },
];

export default tseslint.config(
  {
    ignores: [
      "**/dist/**",
      "packages/web/vite.config.ts",
      ".tourney/**",
      "**/test-results/**",
      "packages/stand-in-model/exhibits/**",
      "docs/**",
    ],
  },
  eslint.configs.recommended,
  {
    files: ["**/*.{ts,tsx}"],
    extends: [...tseslint.configs.strictTypeChecked],
    languageOptions: {
      parserOptions: {
        project: ["./tsconfig.test.json", "./packages/web/tsconfig.json", "./packages/e2e/tsconfig.json"],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    plugins: { regexp },
    rules: {
      "no-restricted-syntax": ["error", ...noWildcards],
      "max-lines": ["error", { max: 400, skipBlankLines: true, skipComments: true }],
      "max-lines-per-function": ["error", { max: 60, skipBlankLines: true, skipComments: true }],
      "max-depth": ["error", 3],
      "max-params": ["error", 4],
      // What others wrote is read by these: none may look at a text again from each of its characters.
      "regexp/no-super-linear-backtracking": ["error", { report: "potential" }],
      "regexp/no-super-linear-move": ["error", { report: "potential", ignorePartial: false }],
      // Indexing typed arrays inside checked bounds is what the numeric code does all day.
      "@typescript-eslint/no-non-null-assertion": "off",
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      "@typescript-eslint/no-confusing-void-expression": [
        "error",
        { ignoreArrowShorthand: true, ignoreVoidReturningFunctions: true },
      ],
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_" }],
      "@typescript-eslint/only-throw-error": "error",
      // `const X = z.object(…)` and `type X = z.infer<typeof X>` share a name on purpose.
      "@typescript-eslint/no-redeclare": "off",
    },
  },
  {
    files: ["packages/core/src/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        { patterns: ["node:*", "express*", "sequelize*", "react*", "@tourney/*", "pg*", "playwright*"] },
      ],
      "no-restricted-properties": [
        "error",
        { object: "Math", property: "random", message: "Take a seeded Random." },
        { object: "Date", property: "now", message: "Take the time as an argument." },
      ],
      "no-restricted-globals": [
        "error",
        "console",
        "setTimeout",
        "setInterval",
        "fetch",
        "process",
        "document",
        "window",
      ],
    },
  },
  {
    // A factory of a service is a list of small functions, as a class would be.
    files: ["packages/server/src/**/{service,services,*-service}.ts"],
    rules: { "max-lines-per-function": ["error", { max: 200, skipBlankLines: true, skipComments: true }] },
  },
  {
    // The script of a stage goes into a page as the text of one function, and is there to take the browser's own methods and put others
    // in their place. It doubts what the types say is there.
    files: [
      "packages/stage/src/{run-stage,watch-page,hide-in-drawings,share-inputs}.ts",
      "packages/core/src/blinding/find-names.ts",
    ],
    rules: {
      "max-lines-per-function": "off",
      "@typescript-eslint/unbound-method": "off",
      "@typescript-eslint/no-deprecated": "off",
      "@typescript-eslint/no-this-alias": "off",
      "@typescript-eslint/no-unnecessary-condition": "off",
      "@typescript-eslint/no-unnecessary-type-conversion": "off",
      "no-restricted-syntax": "off",
      "no-restricted-globals": "off",
    },
  },
  {
    files: ["packages/web/**/*.{ts,tsx}"],
    plugins: { "react-hooks": reactHooks },
    rules: {
      ...reactHooks.configs.recommended.rules,
      // A query without an argument is `build.query<Result, void>`: the library's own way to say so.
      "@typescript-eslint/no-invalid-void-type": "off",
      "max-lines-per-function": ["error", { max: 100, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ["**/*.test.{ts,tsx}", "packages/e2e/**/*.ts", "packages/*/test-support/**/*.{ts,tsx}"],
    // A table of cases may have as many columns as it needs.
    rules: {
      "max-lines-per-function": "off",
      "max-params": "off",
      "regexp/no-super-linear-backtracking": "off",
      "regexp/no-super-linear-move": "off",
    },
  },
  {
    files: ["*.config.ts", "packages/*/*.config.ts", "packages/server/src/db/migrations/**"],
    rules: { "no-restricted-syntax": "off" },
  },
  {
    files: ["**/*.{js,mjs}"],
    languageOptions: { globals: { process: "readonly", console: "readonly", URL: "readonly" } },
  },
);
