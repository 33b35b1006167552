import react from "@vitejs/plugin-react";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      strategies: "injectManifest",
      srcDir: "src",
      filename: "sw.ts",
      registerType: "prompt",
      injectRegister: false,
      injectManifest: {
        globPatterns: ["**/*.{js,css,html,woff2,svg,png}"],
        // Fetched when the view out of the window is first shown; without it there is the simple one.
        globIgnores: ["**/window-*.js"],
        // The page is served by the server at "/", with the nonce of its own style sheets.
        manifestTransforms: [
          (entries) => ({
            manifest: entries.map((e) => (e.url === "index.html" ? { ...e, url: "/" } : e)),
          }),
        ],
      },
      manifest: {
        name: "Keel Turn",
        short_name: "Keel Turn",
        description: "Height is the budget: plan, brief, fly, debrief and sign.",
        theme_color: "#EBF0F2",
        background_color: "#EBF0F2",
        display: "standalone",
        orientation: "any",
        start_url: "/",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "any" },
        ],
      },
    }),
  ],
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 750,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  test: {
    environment: "happy-dom",
    globals: true,
    setupFiles: ["src/test-setup.ts"],
    testTimeout: 180_000,
    // Shared by all files of a process: loading them anew for each took more than the tests. What a test stubs or spies
    // on is put back after it.
    pool: "forks",
    isolate: false,
    unstubGlobals: true,
    restoreMocks: true,
    maxWorkers: 2,
  },
});
