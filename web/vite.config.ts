import { defineConfig } from "vite";

export default defineConfig({
  build: { outDir: "../src/wardrobe/server/web", emptyOutDir: true, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:8610" } },
});
