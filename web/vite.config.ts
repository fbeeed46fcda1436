import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";
import about from "./package.json" with { type: "json" };

// Features import `@/api`, `@/kit` and `@/cursor`, never each other's insides.
export default defineConfig({
  resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
  plugins: [react(), tailwindcss()],
  define: { __VERSION__: JSON.stringify(about.version) },
  test: { include: ["src/**/*.test.ts"] },
  build: { target: "es2023", assetsInlineLimit: 0 },
  // The host stays that of the page, which the server holds against where a change comes from.
  server: { proxy: { "/api": { target: "http://127.0.0.1:8460", changeOrigin: false } } },
});
