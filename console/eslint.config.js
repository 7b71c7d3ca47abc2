// Lints the console: what TypeScript does not say, and the rules of hooks. Formatting is the formatter's.
import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import { defineConfig } from "eslint/config";
import ts from "typescript-eslint";

export default defineConfig(
  { ignores: ["target/", "node_modules/", "src/api/contract/"] },
  js.configs.recommended,
  ts.configs.recommended,
  hooks.configs.flat.recommended,
  { languageOptions: { globals: { process: "readonly", console: "readonly" } } },
);
