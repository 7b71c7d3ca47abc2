import tailwind from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  base: "/console/_/",
  plugins: [react(), tailwind()],
  build: {
    outDir: "target/site",
    emptyOutDir: true,
    assetsDir: "assets",
    assetsInlineLimit: 0, // nothing but files, so that the policy needs no exception
    modulePreload: { polyfill: false },
    target: "es2022",
    sourcemap: false,
  },
});
