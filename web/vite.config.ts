import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 600,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  test: { environment: "jsdom", globals: true, setupFiles: ["src/test-setup.ts"], testTimeout: 40000 },
});
